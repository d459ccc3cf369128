import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";

export type Sentence = Partial<Record<"unit" | "reach" | "rule" | "status" | "filter", string | undefined>> & {
  where?: string[] | undefined;
};

/** The values of an attribute among the sites that match, without the filter at one place; requested once an attribute is chosen. */
export const useChoices = (
  attribute: Schema["Attribute"] | undefined,
  sentence: Sentence,
  find: string,
  clause?: number,
) =>
  useQuery({
    queryKey: ["choices", attribute?.name, sentence, clause, find],
    queryFn: () =>
      ok(
        api.GET("/api/register/choices", {
          params: { query: clean({ ...sentence, of: attribute?.name ?? "", find, clause }) },
        }),
      ),
    enabled: attribute !== undefined,
    placeholderData: keepPreviousData,
  });

type Clean<T> = { [Key in keyof T]: Exclude<T[Key], undefined> };

export const clean = <T extends Record<string, unknown>>(query: T) =>
  Object.fromEntries(Object.entries(query).filter(([, value]) => value !== undefined)) as Clean<T>;
