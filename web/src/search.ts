/** What the address bar carries: a view is a link. */
export interface RegisterSearch {
  unit?: string;
  reach?: string;
  rule?: string;
  stage?: string;
  filter?: string;
  sort?: "worst" | "title" | "edited";
  /** The site in focus. */
  site?: number;
}

export interface JournalSearch {
  deed?: string;
  site?: number;
}

type Raw = Record<string, unknown>;

const text = <Key extends string>(raw: Raw, key: Key): Partial<Record<Key, string>> => {
  const value = raw[key];
  return typeof value === "string" && value !== "" ? ({ [key]: value } as Record<Key, string>) : {};
};

const whole = <Key extends string>(raw: Raw, key: Key): Partial<Record<Key, number>> => {
  const value = Number(raw[key]);
  return Number.isSafeInteger(value) && value > 0 ? ({ [key]: value } as Record<Key, number>) : {};
};

export function readRegisterSearch(raw: Raw): RegisterSearch {
  const sort = raw.sort === "title" || raw.sort === "edited" ? { sort: raw.sort } : {};
  return {
    ...text(raw, "unit"),
    ...text(raw, "reach"),
    ...text(raw, "rule"),
    ...text(raw, "stage"),
    ...text(raw, "filter"),
    ...sort,
    ...whole(raw, "site"),
  } as RegisterSearch;
}

export const readJournalSearch = (raw: Raw): JournalSearch => ({ ...text(raw, "deed"), ...whole(raw, "site") });
