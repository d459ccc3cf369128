import { useQuery } from "@tanstack/react-query";
import { api, ApiError, ok, type Wire } from "../api/client";
import type { RegisterSearch } from "../search";
import { AndMore } from "./AndMore";
import { ClausePart } from "./ClausePart";
import { SentencePart, type Choice } from "./SentencePart";

/** What of the sentence is to be another; undefined takes a part away. */
export type SentenceChange = { [Key in keyof RegisterSearch]?: RegisterSearch[Key] | undefined };

interface Props {
  search: RegisterSearch;
  counts: Wire["RegisterWire"] | undefined;
  error: Error | null;
  onChange: (change: SentenceChange) => void;
}

const sorts: Choice[] = [
  { key: "title", words: "by name" },
  { key: "edited", words: "latest edit first" },
];

export const useAttributes = () =>
  useQuery({
    queryKey: ["attributes"],
    queryFn: () => ok(api.GET("/api/register/attributes")),
    staleTime: Infinity,
  });

/** The list in one sentence, whose underlined parts are its filters. */
export function Sentence({ search, counts, error, onChange }: Props) {
  const attributes = useAttributes().data ?? [];
  const where = search.where ?? [];
  const problem =
    error instanceof ApiError && error.status === 400 ? (error.body as Wire["FilterProblemWire"]) : undefined;
  const units = counts?.units.map((unit) => ({
    ...unit,
    words: unit.key === "none" ? "of no unit" : `in ${unit.words}`,
  }));
  const change = (place: number, text: string | undefined) => {
    const next = text === undefined ? where.filter((_, at) => at !== place) : where.with(place, text);
    onChange({ where: next.length > 0 ? next : undefined });
  };
  const [first, second] = (search.sort ?? "").split(",");
  return (
    <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1 text-[16px]" role="group" aria-label="The sentence">
      <span>Sites</span>
      <SentencePart
        label="Unit"
        any="in any unit"
        choices={units ?? []}
        chosen={search.unit}
        onChoose={(unit) => onChange({ unit })}
      />
      <span>that</span>
      <SentencePart
        label="Reach"
        any="anybody can reach"
        choices={counts?.reaches ?? []}
        chosen={search.reach}
        onChoose={(reach) => onChange({ reach })}
      />
      <span>and that</span>
      <SentencePart
        label="Rules"
        any="break any rule or none"
        choices={counts?.rules ?? []}
        chosen={search.rule}
        onChoose={(rule) => onChange({ rule })}
      />
      <span>and</span>
      <SentencePart
        label="Stage"
        any="are at any stage"
        choices={counts?.stages ?? []}
        chosen={search.stage}
        onChoose={(stage) => onChange({ stage })}
      />
      {where.map((text, place) => (
        <ClausePart
          key={place}
          text={text}
          place={place}
          words={counts?.clauses[place]}
          search={search}
          attributes={attributes}
          onChange={(next) => change(place, next)}
        />
      ))}
      <AndMore
        search={search}
        attributes={attributes}
        whole={counts?.filter}
        problem={problem}
        onClause={(text) => onChange({ where: [...where, text] })}
        onFilter={(filter) => onChange({ filter })}
      />
      <span>,</span>
      <SentencePart
        label="Order"
        any="worst first"
        choices={[...sorts, ...byAttributes(attributes)]}
        chosen={first === "" ? undefined : first}
        onChoose={(sort) => onChange({ sort })}
        isSearched
      />
      {first !== "" && first !== undefined && (
        <SentencePart
          label="Then in the order"
          any="then by name"
          choices={byAttributes(attributes)}
          chosen={second}
          onChoose={(then) => onChange({ sort: then === undefined ? first : `${first},${then}` })}
          isSearched
        />
      )}
      {problem && problem.part !== "filter" && (
        <p role="alert" className="basis-full text-[13px] text-madder">
          This sentence cannot be read: {problem.message}.
        </p>
      )}
    </div>
  );
}

const byAttributes = (attributes: Wire["AttributeWire"][]): Choice[] =>
  attributes
    .filter((attribute) => attribute.canSort)
    .flatMap((attribute) => [
      { key: attribute.name, words: `by ${attribute.words}, ${upwards[attribute.type] ?? "upwards"}` },
      { key: `-${attribute.name}`, words: `by ${attribute.words}, ${downwards[attribute.type] ?? "downwards"}` },
    ]);

const upwards: Record<string, string> = { text: "A to Z", instant: "oldest first", number: "least first" };
const downwards: Record<string, string> = { text: "Z to A", instant: "latest first", number: "most first" };
