import { useState } from "react";
import type { Wire } from "../api/client";
import { useMe } from "../api/useMe";
import { useDecide } from "../first-week/useSay";
import { Button } from "../ledger/Button";
import { listed } from "../ledger/words";
import { useWords } from "../words/useWords";
import { Line } from "./Content";
import { Section } from "./Section";

type Folio = Wire["FolioWire"];

const languages = new Intl.DisplayNames("en-GB", { type: "language", fallback: "code" });

/** What it is for, in the house's words and in its makers'. */
export function About({ folio }: { folio: Folio }) {
  const mayChange = useMe()?.role === "administrator";
  const [isChoosing, setChoosing] = useState(false);
  const { tags } = folio;
  return (
    <Section title="What it is">
      <Line term="Purpose" value={folio.purpose ?? "not said"} />
      <Line
        term="Tags"
        value={
          <>
            {tags === null ? "not known" : tags.approved.length > 0 ? listed(tags.approved) : "none"}
            {tags && tags.loose.length > 0 && (
              <span className="block text-[13px] text-second">
                its makers also write <bdi>{listed(tags.loose)}</bdi>, which is no tag of the house
              </span>
            )}
            {mayChange && (
              <Button className="ml-3" aria-expanded={isChoosing} onClick={() => setChoosing(!isChoosing)}>
                {isChoosing ? "Leave them" : "Choose tags"}
              </Button>
            )}
          </>
        }
      />
      {isChoosing && <ChooseTags folio={folio} onChosen={() => setChoosing(false)} />}
      <Names folio={folio} />
      {folio.description && <Line term="Description" value={<bdi>{folio.description}</bdi>} />}
      {folio.language && <Line term="Language" value={inWords(folio.language)} />}
    </Section>
  );
}

/** The names that visitors meet, where they are known, and whether they say something else than the stored one. */
function Names({ folio }: { folio: Folio }) {
  const { shown, home, drift } = folio.names;
  const met = [
    { term: "Shown as", name: shown, drifts: drift.includes("shown") },
    { term: "Home page", name: home, drifts: drift.includes("home") },
    { term: "Address", name: drift.includes("address") ? folio.line.address : null, drifts: true },
  ];
  return met.map(
    ({ term, name, drifts }) =>
      name && (
        <Line
          key={term}
          term={term}
          value={
            <>
              <bdi>{name}</bdi>
              {drifts && <span className="block text-[13px] text-ochre">says something else than the stored name</span>}
            </>
          }
        />
      ),
  );
}

// A host may write what is no language tag.
function inWords(tag: string) {
  try {
    return languages.of(tag) ?? tag;
  } catch {
    return tag;
  }
}

function ChooseTags({ folio, onChosen }: { folio: Folio; onChosen: () => void }) {
  const words = useWords();
  const decide = useDecide();
  const [chosen, setChosen] = useState<string[] | null>(null);
  const terms = words.data?.terms.filter((term) => term.fact === "tags") ?? [];
  const now = chosen ?? terms.filter((term) => folio.tags?.approved.includes(term.name)).map((term) => term.code);
  if (words.data && terms.length === 0) return <li className="py-1.5 text-second">The house has no tags yet.</li>;
  return (
    <li className="border-b border-rule py-2">
      <fieldset>
        <legend className="font-semibold">Decided here, it is tagged</legend>
        {terms.map((term) => (
          <label key={term.code} className="mr-4 inline-flex min-h-7 items-center gap-1.5">
            <input
              type="checkbox"
              checked={now.includes(term.code)}
              onChange={(event) =>
                setChosen(event.target.checked ? [...now, term.code] : now.filter((code) => code !== term.code))
              }
            />
            {term.name}
          </label>
        ))}
      </fieldset>
      {decide.error && (
        <p role="alert" className="text-madder">
          {decide.error.message}
        </p>
      )}
      <Button
        look="deed"
        className="mt-1"
        disabled={decide.isPending}
        onClick={() =>
          decide.mutate(
            { fact: "tags", sites: [folio.line.id], value: now.length > 0 ? now.join(", ") : null, group: null },
            { onSuccess: onChosen },
          )
        }
      >
        Decide
      </Button>
    </li>
  );
}
