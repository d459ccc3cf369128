import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";
import type { RegisterSearch } from "../api/search";

const windowSize = 100;

const query = (search: RegisterSearch, offset: number) => {
  const sentence = { ...search };
  delete sentence.site;
  return {
    queryKey: ["register", sentence, offset],
    queryFn: () => ok(api.GET("/api/register", { params: { query: { ...sentence, offset, limit: windowSize } } })),
  };
};

/** The first window of rows with the counts; the last response stays until the next arrives. */
export const useRegister = (search: RegisterSearch) =>
  useQuery({ ...query(search, 0), placeholderData: keepPreviousData });

/** The place of a site in the list; requested only where it is not in the first window. */
export function usePlace(search: RegisterSearch, isAsked: boolean) {
  const sentence = { ...search };
  const site = sentence.site ?? 0;
  delete sentence.site;
  return useQuery({
    queryKey: ["place", sentence, site],
    queryFn: () => ok(api.GET("/api/register/places/{site}", { params: { path: { site }, query: sentence } })),
    enabled: isAsked,
  });
}

/** The ids of a range of rows, also those not loaded. */
export function rangeOf(search: RegisterSearch, from: number, to: number) {
  const sentence = { ...search };
  delete sentence.site;
  const query = { ...sentence, from, to: Math.min(to, 2_000_000_000) };
  return ok(api.GET("/api/register/range", { params: { query } }));
}

/** Rows by place, from the windows on the screen. */
export function useLines(
  search: RegisterSearch,
  first: number,
  last: number,
): (place: number) => Schema["RegisterRow"] | undefined {
  const from = Math.floor(first / windowSize);
  const windows = useQueries({
    queries: Array.from({ length: Math.floor(last / windowSize) - from + 1 }, (_, i) =>
      query(search, (from + i) * windowSize),
    ),
  });
  return (place) => windows[Math.floor(place / windowSize) - from]?.data?.lines[place % windowSize];
}
