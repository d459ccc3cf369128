import { readLimits } from "./limits";
import type { Schema } from "./client";

/** The parameters of the address bar: a link contains the whole view. */
export interface RegisterSearch {
  unit?: string;
  reach?: string;
  rule?: string;
  status?: string;
  filter?: string;
  /** Added filters, each attribute:how:value|value. */
  where?: string[];
  /** Shows the sites where the filters cannot tell, instead of those that match. */
  verdict?: "cannot-tell";
  /** title, edited, or attributes separated by commas, a hyphen before a descending one; most urgent first if it is missing. */
  sort?: string;
  /** Attributes shown in additional columns. */
  show?: string[];
  /** The site in focus. */
  site?: number;
}

export interface JournalSearch {
  action?: string;
  site?: number;
  /** Only entries of this source. */
  source?: string;
  /** A day. */
  since?: string;
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

const texts = <Key extends string>(raw: Raw, key: Key): Partial<Record<Key, string[]>> => {
  const values = [raw[key]].flat().filter((value) => typeof value === "string" && value !== "");
  return values.length > 0 ? ({ [key]: values } as Record<Key, string[]>) : {};
};

export function readRegisterSearch(raw: Raw): RegisterSearch {
  return {
    ...text(raw, "unit"),
    ...text(raw, "reach"),
    ...text(raw, "rule"),
    ...text(raw, "status"),
    ...text(raw, "filter"),
    ...texts(raw, "where"),
    ...(raw.verdict === "cannot-tell" ? { verdict: raw.verdict } : {}),
    ...text(raw, "sort"),
    ...texts(raw, "show"),
    ...whole(raw, "site"),
  };
}

export const readJournalSearch = (raw: Raw): JournalSearch => ({
  ...text(raw, "action"),
  ...whole(raw, "site"),
  ...text(raw, "source"),
  ...(typeof raw.since === "string" && /^\d{4}-\d\d-\d\d$/.test(raw.since) ? { since: raw.since } : {}),
});

export interface OwnersSearch {
  /** The owner, by id. */
  person?: number;
  state?: "none" | "single" | "unknown";
}

export const readOwnersSearch = (raw: Raw): OwnersSearch => ({
  ...whole(raw, "person"),
  ...(raw.state === "none" || raw.state === "single" || raw.state === "unknown" ? { state: raw.state } : {}),
});

/** Whose access is removed, and where: from one site, or from those of one host, or from all. */
export interface RemoveSearch {
  person?: number;
  group?: number;
  site?: number;
  host?: string;
}

export const readRemoveSearch = (raw: Raw): RemoveSearch => ({
  ...whole(raw, "person"),
  ...whole(raw, "group"),
  ...whole(raw, "site"),
  ...text(raw, "host"),
});

/** Who asks to get in, and for what: a person, or a kind of person. */
export interface WhySearch {
  person?: number;
  kind?: Schema["VisitorKind"];
  power?: Schema["Power"];
}

const kinds: Schema["VisitorKind"][] = ["new-guest", "partner", "not-signed-in"];
const powers: Schema["Power"][] = ["view", "preview", "edit", "publish", "invite", "manage", "own"];
const among = <Value extends string>(value: unknown, values: Value[]) => values.find((one) => one === value);

export function readWhySearch(raw: Raw): WhySearch {
  const [kind, power] = [among(raw.kind, kinds), among(raw.power, powers)];
  return { ...whole(raw, "person"), ...(kind && { kind }), ...(power && { power }) };
}

/** Of which power all sites are shown; to view the published site if none is named. */
export interface MatrixSearch {
  power?: "preview" | "edit";
}

export const readMatrixSearch = (raw: Raw): MatrixSearch =>
  raw.power === "preview" || raw.power === "edit" ? { power: raw.power } : {};

/** Which limit is changed, and to what it is raised, if that is proposed. */
export interface LimitSearch {
  kind: Schema["LayerKind"];
  code: string;
  enforcer: Schema["Enforcer"];
  to?: Schema["Limits"];
}

const layerKinds: Schema["LayerKind"][] = [
  "organisation",
  "host",
  "place",
  "unit",
  "classification",
  "kind",
  "owners-classification",
];

export function readLimitSearch(raw: Raw): LimitSearch {
  const to = readLimits(raw.to);
  return {
    kind: among(raw.kind, layerKinds) ?? "organisation",
    code: typeof raw.code === "string" ? raw.code : typeof raw.code === "number" ? `${raw.code}` : "",
    enforcer: raw.enforcer === "host" ? "host" : "policy",
    ...(to && { to }),
  };
}

/** Who is granted access, as far as it is chosen already. */
export interface GrantSearch {
  person?: number;
  group?: number;
  all?: Schema["WideSubject"];
  power?: Schema["Power"];
}

const wide: Schema["WideSubject"][] = ["staff", "partners", "anonymous"];

export function readGrantSearch(raw: Raw): GrantSearch {
  const [all, power] = [among(raw.all, wide), among(raw.power, powers)];
  return { ...whole(raw, "person"), ...whole(raw, "group"), ...(all && { all }), ...(power && { power }) };
}

export interface InviteSearch {
  power?: Schema["Power"];
}

export function readInviteSearch(raw: Raw): InviteSearch {
  const power = among(raw.power, powers);
  return power ? { power } : {};
}

export interface GuestsSearch {
  mark?: Schema["GuestMark"];
  /** The place of the first shown. */
  first?: number;
}

const guestMarks: Schema["GuestMark"][] = [
  "no-sponsor",
  "named-like-staff",
  "named-like-former-staff",
  "never-joined",
  "not-seen",
  "not-reviewed",
];

export function readGuestsSearch(raw: Raw): GuestsSearch {
  const mark = among(raw.mark, guestMarks);
  return { ...(mark && { mark }), ...whole(raw, "first") };
}

export interface AtticSearch {
  /** The site in focus. */
  site?: number;
}

export const readAtticSearch = (raw: Raw): AtticSearch => whole(raw, "site");

/** The token of the mail link that led here. */
export interface OfferSearch {
  link?: string;
}

export const readOfferSearch = (raw: Raw): OfferSearch => text(raw, "link");

export interface YoursSearch extends AtticSearch, OfferSearch {}

export const readYoursSearch = (raw: Raw): YoursSearch => ({ ...whole(raw, "site"), ...text(raw, "link") });

export interface VocabularySearch {
  fact: "classification" | "purpose" | "tags";
}

export const readVocabularySearch = (raw: Raw): VocabularySearch => ({
  fact: raw.fact === "classification" || raw.fact === "purpose" ? raw.fact : "tags",
});

/** Pairs of near names: those to decide, or those that are both right. */
export interface TwinsSearch {
  right?: true;
}

export const readTwinsSearch = (raw: Raw): TwinsSearch => (raw.right === true ? { right: true } : {});

/** A rule that is tried out: its scope, its demand, and the rule to compare it with. */
export interface RulesSearch {
  /** The form of a rule, before anything is written in it. */
  write?: true;
  scope?: string;
  demand?: string;
  rule?: string;
}

export const readRulesSearch = (raw: Raw): RulesSearch => ({
  ...(raw.write === true ? { write: true } : {}),
  ...text(raw, "scope"),
  ...text(raw, "demand"),
  ...text(raw, "rule"),
});

export interface ClassificationSearch {
  fact: "unit" | "classification" | "purpose";
}

export const readClassificationSearch = (raw: Raw): ClassificationSearch => ({
  fact: raw.fact === "unit" || raw.fact === "purpose" ? raw.fact : "classification",
});

export interface ReportSearch {
  on?: string;
  from?: string;
  through?: string;
  by?: number;
}

const isDay = (value: unknown): value is string => typeof value === "string" && /^\d{4}-\d{2}-\d{2}$/.test(value);

export const readReportSearch = (raw: Raw): ReportSearch => ({
  ...(isDay(raw.on) && { on: raw.on }),
  ...(isDay(raw.from) && { from: raw.from }),
  ...(isDay(raw.through) && { through: raw.through }),
  ...(typeof raw.by === "number" && { by: raw.by }),
});

/** The search parameters without one of them. */
export function without<T extends object, Key extends keyof T>(search: T, key: Key): Omit<T, Key> {
  const rest = { ...search };
  // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
  delete rest[key];
  return rest;
}
