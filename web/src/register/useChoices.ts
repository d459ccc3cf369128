import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ok, type Wire } from "../api/client";

type Sentence = Partial<Record<"unit" | "reach" | "rule" | "stage" | "filter", string | undefined>> & {
  where?: string[] | undefined;
};

/** The values that an attribute has over what a sentence leaves, its clause at a place left out; asked once there is an attribute. */
export const useChoices = (
  attribute: Wire["AttributeWire"] | undefined,
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

const clean = <T extends Record<string, unknown>>(query: T) =>
  Object.fromEntries(Object.entries(query).filter(([, value]) => value !== undefined)) as Clean<T>;
