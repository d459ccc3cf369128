import { Select } from "../ui/Select";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { OneOf } from "../ui/OneOf";
import { SidePanel, Waiting } from "../ui/SidePanel";
import { capital, counted, listed } from "../ui/words";
import { factNames, useUndoVocabulary, useVocabulary, type WordFact, type VocabularyRequest } from "./useVocabulary";
import { VocabularyPlan } from "./VocabularyPlan";

type Term = Schema["Term"];

/** The open form: at which term or word, and for which change. */
type Open = { at: string; action: VocabularyRequest["action"] } | null;

interface Done {
  words: string;
  entry: number;
}

const facts: WordFact[] = ["classification", "purpose", "tags"];

/** The vocabulary: its terms, the words that mean them, and the unmapped words of sources. */
export function VocabularyPage() {
  const { fact } = useSearch({ from: "/books/vocabulary" });
  const navigate = useNavigate();
  const mayChange = useMe()?.role === "administrator";
  const words = useVocabulary();
  const [open, setOpen] = useState<Open>(null);
  const [done, setDone] = useState<Done | null>(null);
  if (!words.data) return <Waiting title="Vocabulary" error={words.error} />;
  const terms = words.data.terms.filter((term) => term.fact === fact);
  const loose = words.data.loose.filter((word) => word.fact === fact);
  const changed = (what: Done) => {
    setDone(what);
    setOpen(null);
  };
  const part = { fact, terms, mayChange, open, onOpen: setOpen, onDone: changed };
  return (
    <SidePanel
      title="Vocabulary"
      lead="The organisation's own classifications, purposes and tags, and the words of sources that mean each. The sources keep their words. Case, accents and spaces do not matter."
    >
      <OneOf
        label="Which list"
        value={fact}
        choices={facts.map((one) => ({
          value: one,
          words: `${capital(factNames[one].many)} (${words.data.terms.filter((term) => term.fact === one).length})`,
        }))}
        onChoose={(value) => {
          setOpen(null);
          void navigate({ to: "/vocabulary", search: { fact: value } });
        }}
      />
      {done && <Undo done={done} onUndone={() => setDone(null)} />}
      <Approved {...part} />
      <Loose {...part} loose={loose} />
    </SidePanel>
  );
}

function Undo({ done, onUndone }: { done: Done; onUndone: () => void }) {
  const back = useUndoVocabulary(onUndone);
  return (
    <p role="status" className="mt-4 flex items-center gap-3 border-l-[3px] border-moss bg-moss-pale px-3 py-2">
      <span className="min-w-0 flex-1 font-semibold">
        <bdi>{done.words}</bdi>: done.
      </span>
      <Button disabled={back.isPending} onClick={() => back.mutate(done.entry)}>
        Undo
      </Button>
      {back.error && <span className="text-madder">{back.error.message}</span>}
    </p>
  );
}

interface PartProps {
  fact: WordFact;
  terms: Term[];
  mayChange: boolean;
  open: Open;
  onOpen: (open: Open) => void;
  onDone: (done: Done) => void;
}

const filterOf = (fact: WordFact, value: string, isLoose = false) =>
  `${isLoose && fact === "tags" ? "words" : fact} eq ${JSON.stringify(value)}`;

function Approved(props: PartProps) {
  const { fact, terms } = props;
  return (
    <section className="mt-5" aria-label={`The organisation's ${factNames[fact].many}`}>
      {terms.length === 0 && <p className="text-second">The organisation has no {factNames[fact].many} yet.</p>}
      <ul className="divide-y divide-rule border-y border-rule empty:hidden">
        {terms.map((term) => (
          <li key={term.code} className="py-2.5">
            <TermLine {...props} term={term} />
          </li>
        ))}
      </ul>
      {props.mayChange && <NewTerm {...props} />}
    </section>
  );
}

function TermLine(props: PartProps & { term: Term }) {
  const { fact, term, open, onOpen } = props;
  const isOpen = open?.at === term.code ? open : null;
  return (
    <>
      <div className="flex items-baseline gap-x-3">
        <p className="min-w-0 flex-1">
          <span className="font-semibold">{term.name}</span>{" "}
          {term.code !== term.name && <span className="font-address text-[12.5px] text-second">{term.code}</span>}{" "}
          <Link to="/" search={{ filter: filterOf(fact, term.code) }} className="text-[13px] underline">
            {counted(term.count, "site")}
          </Link>
          {term.words.length > 0 && (
            <span className="block text-[13px] text-second">
              also <bdi>{listed(term.words)}</bdi>
            </span>
          )}
        </p>
        {props.mayChange && (
          <Button
            aria-expanded={isOpen !== null}
            aria-label={`Change ${term.name}`}
            onClick={() => onOpen(isOpen ? null : { at: term.code, action: "mean" })}
          >
            {isOpen ? "Collapse" : "Change"}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <OneOf
            label={`Change ${term.name}`}
            value={isOpen.action}
            choices={actions.filter(({ value }) => value !== "part" || term.words.length > 0)}
            onChoose={(action) => onOpen({ at: term.code, action })}
          />
          <Change {...props} key={isOpen.action} action={isOpen.action} />
        </>
      )}
    </>
  );
}

const actions: { value: VocabularyRequest["action"]; words: string }[] = [
  { value: "mean", words: "Add a word" },
  { value: "part", words: "Remove a word" },
  { value: "rename", words: "Rename" },
  { value: "merge", words: "Merge" },
  { value: "drop", words: "Remove" },
];

function Change(props: PartProps & { term: Term; action: VocabularyRequest["action"] }) {
  const { fact, term, action } = props;
  const [typed, setTyped] = useState(action === "rename" ? term.name : "");
  const word = typed.trim();
  const others = props.terms.filter((other) => other.code !== term.code);
  const into = others.find((other) => other.code === typed);
  const request = { fact, action, code: term.code, word, into: null };
  switch (action) {
    case "mean":
      return (
        <>
          <Field
            label={`Another word for ${term.name}`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          {word && <VocabularyPlan request={request} words={`Map “${word}” to ${term.name}`} onDone={props.onDone} />}
        </>
      );
    case "rename":
      return (
        <>
          <Field
            label={`${term.name} new name`}
            hint="Its code stays, and its old name still means it."
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          {word && word !== term.name && (
            <VocabularyPlan request={request} words={`Rename ${term.name} “${word}”`} onDone={props.onDone} />
          )}
        </>
      );
    case "merge":
      return (
        <>
          <Choice
            label={`${term.name} and all its words will mean`}
            choices={codesOf(others)}
            value={typed}
            onChoose={setTyped}
          />
          {into && (
            <VocabularyPlan
              request={{ ...request, word: null, into: into.code }}
              words={`Merge ${term.name} into ${into.name}`}
              onDone={props.onDone}
            />
          )}
        </>
      );
    case "part":
      return (
        <>
          <Choice
            label={`Word to remove from ${term.name}`}
            choices={term.words.map((one) => [one, one])}
            value={typed}
            onChoose={setTyped}
          />
          {word && <VocabularyPlan request={request} words={`Unmap “${word}” to ${term.name}`} onDone={props.onDone} />}
        </>
      );
    default:
      return (
        <VocabularyPlan request={{ ...request, word: null }} words={`Remove ${term.name}`} onDone={props.onDone} />
      );
  }
}

const codesOf = (terms: Term[]) => terms.map((term): [string, string] => [term.code, term.name]);

function Choice(props: {
  label: string;
  choices: [value: string, words: string][];
  value: string;
  onChoose: (value: string) => void;
}) {
  return (
    <Select
      labelled="beside"
      label={props.label}
      value={props.value}
      choices={[{ value: "", words: "choose" }, ...props.choices.map(([value, words]) => ({ value, words }))]}
      onChoose={props.onChoose}
    />
  );
}

function NewTerm({ fact, onDone }: PartProps) {
  const [name, setName] = useState("");
  const word = name.trim();
  return (
    <div className="mt-3 max-w-[420px]">
      <Field label={`A new ${factNames[fact].one}`} value={name} onChange={(event) => setName(event.target.value)} />
      {word && (
        <VocabularyPlan
          request={{ fact, action: "add", code: null, word, into: null }}
          words={`Add “${word}”`}
          onDone={(done) => {
            setName("");
            onDone(done);
          }}
        />
      )}
    </div>
  );
}

function Loose(props: PartProps & { loose: Schema["UnmappedTag"][] }) {
  const { fact, loose } = props;
  return (
    <section className="mt-7" aria-label="Unmapped words">
      <h2 className="text-[18px]">Unmapped words</h2>
      <p className="text-second">
        {loose.length === 0
          ? `Every ${factNames[fact].one} that a source reports is in the vocabulary.`
          : `Sources use these words, and the vocabulary does not map them to ${factNames[fact].many}. The most frequent come first.`}
      </p>
      <ul className="mt-1 divide-y divide-rule border-y border-rule empty:hidden">
        {loose.map((word) => (
          <li key={word.word} className="py-2">
            <UnmappedTagRow {...props} word={word} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function UnmappedTagRow(props: PartProps & { word: Schema["UnmappedTag"] }) {
  const { fact, word, terms, open, onOpen } = props;
  const [code, setCode] = useState("");
  const at = `word ${word.word}`;
  const term = terms.find((one) => one.code === code);
  const isOpen = open?.at === at;
  return (
    <>
      <div className="flex items-baseline gap-3">
        <p className="min-w-0 flex-1">
          <bdi className="font-semibold">{word.word}</bdi>{" "}
          <Link to="/" search={{ filter: filterOf(fact, word.word, true) }} className="text-[13px] underline">
            {counted(word.count, "site")}
          </Link>
        </p>
        {props.mayChange && (
          <Button
            aria-expanded={isOpen}
            aria-label={`Map ${word.word}`}
            onClick={() => {
              setCode("");
              onOpen(isOpen ? null : { at, action: "mean" });
            }}
          >
            {isOpen ? "Collapse" : "Map the word"}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <Choice
            label="Meaning"
            choices={[["+", `a new ${factNames[fact].one} with that name`], ...codesOf(terms)]}
            value={code}
            onChoose={setCode}
          />
          {code === "+" && (
            <VocabularyPlan
              request={{ fact, action: "add", code: null, word: word.word, into: null }}
              words={`Add “${word.word}”`}
              onDone={props.onDone}
            />
          )}
          {term && (
            <VocabularyPlan
              request={{ fact, action: "mean", code: term.code, word: word.word, into: null }}
              words={`Map “${word.word}” to ${term.name}`}
              onDone={props.onDone}
            />
          )}
        </>
      )}
    </>
  );
}
