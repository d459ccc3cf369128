import { useQuery } from "@tanstack/react-query";
import { api, ApiError, ok, type Schema } from "../api/client";
import type { RegisterSearch } from "../api/search";
import { AndMore } from "./AndMore";
import { ClausePart } from "./ClausePart";
import { SentencePart, type Choice } from "../ui/SentencePart";

/** The parts of the sentence to change; undefined removes a part. */
export type SentenceChange = { [Key in keyof RegisterSearch]?: RegisterSearch[Key] | undefined };

interface Props {
  search: RegisterSearch;
  counts: Schema["Register"] | undefined;
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

/** The list described in one sentence; its underlined parts are the filters. */
export function Sentence({ search, counts, error, onChange }: Props) {
  const attributes = useAttributes().data ?? [];
  const where = search.where ?? [];
  const problem =
    error instanceof ApiError && error.status === 400 ? (error.body as Schema["FilterProblem"]) : undefined;
  const units = counts?.units.map((unit) => ({
    ...unit,
    words: unit.key === "none" ? "without a unit" : `in ${unit.words}`,
  }));
  const change = (place: number, text: string | undefined) => {
    const next = text === undefined ? where.filter((_, at) => at !== place) : where.with(place, text);
    onChange({ where: next.length > 0 ? next : undefined });
  };
  const [first, second] = (search.sort ?? "").split(",");
  return (
    <div className="flex flex-wrap items-center gap-x-1.5 gap-y-1 text-[16px]" role="group" aria-label="Filters">
      <span>Sites</span>
      <SentencePart
        label="Unit"
        any="in any unit"
        choices={units ?? []}
        chosen={search.unit}
        onChoose={(unit) => onChange({ unit })}
      />
      <span>{search.reach ? "that" : "with"}</span>{" "}
      <SentencePart
        label="Access"
        any="any access"
        choices={counts?.reaches ?? []}
        chosen={search.reach}
        onChoose={(reach) => onChange({ reach })}
      />
      <span>{search.rule ? "that" : "with"}</span>{" "}
      <SentencePart
        label="Rules"
        any="any findings or none"
        choices={counts?.rules ?? []}
        chosen={search.rule}
        onChoose={(rule) => onChange({ rule })}
      />
      <span>{search.status ? "that" : "in"}</span>{" "}
      <SentencePart
        label="Status"
        any="any status"
        choices={counts?.statuses ?? []}
        chosen={search.status}
        onChoose={(status) => onChange({ status })}
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
      <span>sorted</span>
      <SentencePart
        label="Order"
        any="most urgent first"
        choices={[...sorts, ...byAttributes(attributes)]}
        chosen={first === "" ? undefined : first}
        onChoose={(sort) => onChange({ sort })}
        isSearched
      />
      {first !== "" && first !== undefined && (
        <SentencePart
          label="Second order"
          any="then by name"
          choices={byAttributes(attributes)}
          chosen={second}
          onChoose={(then) => onChange({ sort: then === undefined ? first : `${first},${then}` })}
          isSearched
        />
      )}
      {problem && problem.part !== "filter" && (
        <p role="alert" className="basis-full text-[13px] text-madder">
          These filters are not valid: {problem.message}.
        </p>
      )}
    </div>
  );
}

const byAttributes = (attributes: Schema["Attribute"][]): Choice[] =>
  attributes
    .filter((attribute) => attribute.canSort)
    .flatMap((attribute) => [
      { key: attribute.name, words: `by ${attribute.words}, ${upwards[attribute.type] ?? "upwards"}` },
      { key: `-${attribute.name}`, words: `by ${attribute.words}, ${downwards[attribute.type] ?? "downwards"}` },
    ]);

const upwards: Record<string, string> = { text: "A to Z", instant: "oldest first", number: "least first" };
const downwards: Record<string, string> = { text: "Z to A", instant: "latest first", number: "most first" };
