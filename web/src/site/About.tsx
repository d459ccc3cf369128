import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schema } from "../api/client";
import { useMe } from "../api/useMe";
import { useDecide } from "../classification/useSetFact";
import { Button } from "../ui/Button";
import { listed } from "../ui/words";
import { useVocabulary } from "../vocabulary/useVocabulary";
import { FactLines } from "./FactLines";
import { Line } from "./Line";
import { Section } from "./Section";

type SitePage = Schema["SitePage"];

const languages = new Intl.DisplayNames("en-GB", { type: "language", fallback: "code" });

/** The site's purpose, tags and description, as the vocabulary and its makers have them. */
export function About({ sitePage }: { sitePage: SitePage }) {
  const mayChange = useMe()?.role === "administrator";
  const [isChoosing, setChoosing] = useState(false);
  const { tags } = sitePage;
  return (
    <Section title="What it is">
      <Line term="Purpose" value={sitePage.purpose ?? "not set"} />
      <Line
        term="Tags"
        value={
          <>
            {tags === null ? "not known" : tags.approved.length > 0 ? listed(tags.approved) : "none"}
            {tags && tags.loose.length > 0 && (
              <span className="block text-[13px] text-second">
                its makers also use <bdi>{listed(tags.loose)}</bdi>, an unmapped tag
              </span>
            )}
            {mayChange && (
              <Button className="ml-3" aria-expanded={isChoosing} onClick={() => setChoosing(!isChoosing)}>
                {isChoosing ? "Cancel" : "Choose tags"}
              </Button>
            )}
          </>
        }
      />
      {isChoosing && <ChooseTags sitePage={sitePage} onChosen={() => setChoosing(false)} />}
      <Names sitePage={sitePage} />
      {sitePage.mayAct && sitePage.existence === "in-use" && !sitePage.noLongerReported && (
        <li className="flex flex-wrap gap-x-4 border-b border-rule py-1.5">
          <Link to="/sites/$site/look" params={{ site: sitePage.line.id.toString() }} className="underline">
            Change name, description or logo …
          </Link>
          <Link to="/sites/$site/address" params={{ site: sitePage.line.id.toString() }} className="underline">
            Change the address …
          </Link>
        </li>
      )}
      <FactLines sitePage={sitePage} line="about" />
      {sitePage.language && <Line term="Language" value={inWords(sitePage.language)} />}
    </Section>
  );
}

/** The names that visitors see, and whether they differ from the stored name. */
function Names({ sitePage }: { sitePage: SitePage }) {
  const { shown, home, drift } = sitePage.names;
  const met = [
    { term: "Shown as", name: shown, drifts: drift.includes("shown") },
    { term: "Home page", name: home, drifts: drift.includes("home") },
    { term: "Address", name: drift.includes("address") ? sitePage.line.address : null, drifts: true },
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
              {drifts && <span className="block text-[13px] text-ochre">differs from the stored name</span>}
            </>
          }
        />
      ),
  );
}

// A host may report an invalid language tag.
function inWords(tag: string) {
  try {
    return languages.of(tag) ?? tag;
  } catch {
    return tag;
  }
}

function ChooseTags({ sitePage, onChosen }: { sitePage: SitePage; onChosen: () => void }) {
  const words = useVocabulary();
  const decide = useDecide();
  const [chosen, setChosen] = useState<string[] | null>(null);
  const terms = words.data?.terms.filter((term) => term.fact === "tags") ?? [];
  const now = chosen ?? terms.filter((term) => sitePage.tags?.approved.includes(term.name)).map((term) => term.code);
  if (words.data && terms.length === 0) return <li className="py-1.5 text-second">The vocabulary has no tags yet.</li>;
  return (
    <li className="border-b border-rule py-2">
      <fieldset>
        <legend className="font-semibold">Tags to set</legend>
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
        look="primary"
        className="mt-1"
        disabled={decide.isPending}
        onClick={() =>
          decide.mutate(
            { fact: "tags", sites: [sitePage.line.id], value: now.length > 0 ? now.join(", ") : null, group: null },
            { onSuccess: onChosen },
          )
        }
      >
        Set the tags
      </Button>
    </li>
  );
}
