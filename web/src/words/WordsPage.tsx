import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import type { Wire } from "../api/client";
import { useMe } from "../api/useMe";
import { Button } from "../ledger/Button";
import { Field } from "../ledger/Field";
import { OneOf } from "../ledger/OneOf";
import { Sheet, Waiting } from "../ledger/Sheet";
import { capital, counted, listed } from "../ledger/words";
import { factNames, useTakeBackWords, useWords, type WordFact, type WordWish } from "./useWords";
import { WordPlan } from "./WordPlan";

type Term = Wire["TermWire"];

/** What is being changed: at which term or word, and how. */
type Open = { at: string; deed: WordWish["deed"] } | null;

interface Done {
  words: string;
  entry: number;
}

const facts: WordFact[] = ["class", "purpose", "tags"];

/** The house's own words, what else means them, and the words of sources that mean nothing yet. */
export function WordsPage() {
  const { fact } = useSearch({ from: "/books/words" });
  const navigate = useNavigate();
  const mayChange = useMe()?.role === "administrator";
  const words = useWords();
  const [open, setOpen] = useState<Open>(null);
  const [done, setDone] = useState<Done | null>(null);
  if (!words.data) return <Waiting title="Words" error={words.error} />;
  const terms = words.data.terms.filter((term) => term.fact === fact);
  const loose = words.data.loose.filter((word) => word.fact === fact);
  const changed = (what: Done) => {
    setDone(what);
    setOpen(null);
  };
  const part = { fact, terms, mayChange, open, onOpen: setOpen, onDone: changed };
  return (
    <Sheet
      title="Words"
      lead="The house's own classes, purposes and tags. Sources keep their words; here stands what they are read as. Case, accents and blanks do not matter."
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
          void navigate({ to: "/words", search: { fact: value } });
        }}
      />
      {done && <TakeBack done={done} onTakenBack={() => setDone(null)} />}
      <Approved {...part} />
      <Loose {...part} loose={loose} />
    </Sheet>
  );
}

function TakeBack({ done, onTakenBack }: { done: Done; onTakenBack: () => void }) {
  const back = useTakeBackWords(onTakenBack);
  return (
    <p role="status" className="mt-4 flex items-center gap-3 border-l-[3px] border-moss bg-moss-pale px-3 py-2">
      <span className="min-w-0 flex-1 font-semibold">
        <bdi>{done.words}</bdi>: done.
      </span>
      <Button disabled={back.isPending} onClick={() => back.mutate(done.entry)}>
        Take it back
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
    <section className="mt-5" aria-label={`The house's ${factNames[fact].many}`}>
      {terms.length === 0 && <p className="text-second">The house has no {factNames[fact].many} yet.</p>}
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
            onClick={() => onOpen(isOpen ? null : { at: term.code, deed: "mean" })}
          >
            {isOpen ? "Fold up" : "Change"}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <OneOf
            label={`What is to become of ${term.name}`}
            value={isOpen.deed}
            choices={deeds.filter(({ value }) => value !== "part" || term.words.length > 0)}
            onChoose={(deed) => onOpen({ at: term.code, deed })}
          />
          <Change {...props} key={isOpen.deed} deed={isOpen.deed} />
        </>
      )}
    </>
  );
}

const deeds: { value: WordWish["deed"]; words: string }[] = [
  { value: "mean", words: "Add a word" },
  { value: "part", words: "Take a word away" },
  { value: "rename", words: "Rename" },
  { value: "merge", words: "Merge" },
  { value: "drop", words: "Drop" },
];

function Change(props: PartProps & { term: Term; deed: WordWish["deed"] }) {
  const { fact, term, deed } = props;
  const [typed, setTyped] = useState(deed === "rename" ? term.name : "");
  const word = typed.trim();
  const others = props.terms.filter((other) => other.code !== term.code);
  const into = others.find((other) => other.code === typed);
  const wish = { fact, deed, code: term.code, word, into: null };
  switch (deed) {
    case "mean":
      return (
        <>
          <Field label={`Also read as ${term.name}`} value={typed} onChange={(event) => setTyped(event.target.value)} />
          {word && <WordPlan wish={wish} words={`Read “${word}” as ${term.name}`} onDone={props.onDone} />}
        </>
      );
    case "rename":
      return (
        <>
          <Field
            label={`${term.name} is called`}
            hint="Its code stays, and its old name is still read as it."
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          {word && word !== term.name && (
            <WordPlan wish={wish} words={`Call ${term.name} “${word}”`} onDone={props.onDone} />
          )}
        </>
      );
    case "merge":
      return (
        <>
          <Choice
            label={`${term.name} and all its words are read as`}
            choices={codesOf(others)}
            value={typed}
            onChoose={setTyped}
          />
          {into && (
            <WordPlan
              wish={{ ...wish, word: null, into: into.code }}
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
            label={`No longer read as ${term.name}`}
            choices={term.words.map((one) => [one, one])}
            value={typed}
            onChoose={setTyped}
          />
          {word && <WordPlan wish={wish} words={`No longer read “${word}” as ${term.name}`} onDone={props.onDone} />}
        </>
      );
    default:
      return <WordPlan wish={{ ...wish, word: null }} words={`Drop ${term.name}`} onDone={props.onDone} />;
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
    <label className="mt-2 block font-semibold">
      {props.label}
      <select
        value={props.value}
        onChange={(event) => props.onChoose(event.target.value)}
        className="ml-2 rounded-[4px] border border-rule-strong bg-sheet px-2 py-1.5 font-normal"
      >
        <option value="">choose</option>
        {props.choices.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

function NewTerm({ fact, onDone }: PartProps) {
  const [name, setName] = useState("");
  const word = name.trim();
  return (
    <div className="mt-3 max-w-[420px]">
      <Field label={`A new ${factNames[fact].one}`} value={name} onChange={(event) => setName(event.target.value)} />
      {word && (
        <WordPlan
          wish={{ fact, deed: "add", code: null, word, into: null }}
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

function Loose(props: PartProps & { loose: Wire["LooseWordWire"][] }) {
  const { fact, loose } = props;
  return (
    <section className="mt-7" aria-label="Words that mean nothing yet">
      <h2 className="text-[18px]">Words that mean nothing yet</h2>
      <p className="text-second">
        {loose.length === 0
          ? `Every ${factNames[fact].one} that a source says is one of the house's.`
          : `Sources say these, and they are none of the house's ${factNames[fact].many}. The most frequent stand first.`}
      </p>
      <ul className="mt-1 divide-y divide-rule border-y border-rule empty:hidden">
        {loose.map((word) => (
          <li key={word.word} className="py-2">
            <LooseLine {...props} word={word} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function LooseLine(props: PartProps & { word: Wire["LooseWordWire"] }) {
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
            aria-label={`Say what ${word.word} means`}
            onClick={() => {
              setCode("");
              onOpen(isOpen ? null : { at, deed: "mean" });
            }}
          >
            {isOpen ? "Fold up" : "Say what it means"}
          </Button>
        )}
      </div>
      {isOpen && (
        <>
          <Choice
            label="It means"
            choices={[["+", `a new ${factNames[fact].one} of that name`], ...codesOf(terms)]}
            value={code}
            onChoose={setCode}
          />
          {code === "+" && (
            <WordPlan
              wish={{ fact, deed: "add", code: null, word: word.word, into: null }}
              words={`Add “${word.word}”`}
              onDone={props.onDone}
            />
          )}
          {term && (
            <WordPlan
              wish={{ fact, deed: "mean", code: term.code, word: word.word, into: null }}
              words={`Read “${word.word}” as ${term.name}`}
              onDone={props.onDone}
            />
          )}
        </>
      )}
    </>
  );
}
