import type { Schema } from "../api/client";
import type { Check, FieldName, Kind, NewSite } from "./useStart";

type Reach = Schema["ViewReach"];

export const insides: Record<Reach["inside"], string> = {
  nobody: "owners and editors only",
  named: "owners and editors only",
  unit: "the site's unit",
  staff: "all of the staff",
};

export const outsides: Record<Reach["outside"], string> = {
  "no-one": "nobody from outside",
  "named-guests": "guests by name",
  partners: "partners",
  anonymous: "anybody, without being asked who they are",
};

const signIns: Record<Reach["signIn"], { many: string; one: string }> = {
  none: { many: "", one: "" },
  "one-time-code": { many: " who enter a one-time code", one: " who enters a one-time code" },
  account: { many: " who sign in", one: " who signs in" },
};

/** "all of the staff, and partners who sign in". */
export const reachInWords = ({ inside, outside, signIn }: Reach) =>
  outside === "no-one"
    ? insides[inside]
    : `${insides[inside]}, and ${
        outside !== "anonymous"
          ? `${outsides[outside]}${signIns[signIn].many}`
          : signIn === "none"
            ? outsides.anonymous
            : `anybody${signIns[signIn].one}`
      }`;

/** The widest reach that a kind can have. */
export const mostInWords = (kind: Kind) =>
  !kind.most
    ? "Who can view it at most depends on facts that are not known."
    : kind.most.outside === "anonymous"
      ? "It can be opened to anybody."
      : `At most ${reachInWords(kind.most)} can view it${kind.limits.length > 0 ? ` (limited by ${kind.limits.join(", ")})` : ""}.`;

export const startedBy: Record<Kind["startedBy"], string> = {
  staff: "Any member of staff can start one.",
  request: "You ask, and an administrator grants it.",
  administrators: "Only administrators start it.",
};

/** What is missing is told once somebody has been at the field or has sent the request; everything else at once. */
const missing = new Set([
  "name-missing",
  "address-missing",
  "new-site-without-unit",
  "purpose-missing",
  "new-site-without-owner",
]);

export const remarksOn = (check: Check | undefined, field: FieldName, isAsked: boolean) =>
  (check?.fields ?? []).filter((one) => one.field === field && (isAsked || !missing.has(one.remark.code)));

/** The first field with a refusal, in the order of the page. */
export const firstRefused = (check: Check): FieldName | undefined =>
  order.find((field) => check.fields.some((one) => one.field === field && one.weight === "refusal"));

const order: FieldName[] = [
  "kind",
  "name",
  "address",
  "alias",
  "purpose",
  "unit",
  "classification",
  "tags",
  "description",
  "language",
  "content-notice",
  "ends",
  "owners",
  "editors",
  "reach",
];

/** Tags that what is typed speaks of come first: those chosen, those meant by a word of the name or the description, the others. */
export function offeredTags(
  site: NewSite,
  tags: Schema["TermToChoose"][],
): { meant: Schema["TermToChoose"][]; others: Schema["TermToChoose"][] } {
  const typed = new Set(`${site.name} ${site.description ?? ""}`.toLowerCase().split(/[^\p{L}\p{N}]+/u));
  const isMeant = ({ code, name, words }: Schema["TermToChoose"]) =>
    site.tags.includes(code) || [code, name, ...words].some((word) => typed.has(word.toLowerCase()));
  return { meant: tags.filter(isMeant), others: tags.filter((tag) => !isMeant(tag)) };
}
