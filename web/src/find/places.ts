import type { Wire } from "../api/client";
import type { RegisterSearch } from "../search";

/** A screen or a deed as people ask for it: by its name here, or by whatever they call it elsewhere. */
export interface Place {
  words: string;
  hint: string;
  synonyms: string;
  to:
    | "/"
    | "/desk"
    | "/keys"
    | "/attic"
    | "/journal"
    | "/sources"
    | "/accounts"
    | "/first-week"
    | "/words"
    | "/calendar"
    | "/reports"
    | "/yours";
  search?: RegisterSearch;
  /** Not for owners, whose pages are fewer. */
  isDesk?: boolean;
  /** For those who see everything. */
  isEvidence?: boolean;
  /** For administrators alone. */
  isAccounts?: boolean;
}

const places: Place[] = [
  {
    words: "Desk",
    hint: "what is to be decided",
    synonyms: "home inbox todo queue approvals",
    to: "/desk",
    isDesk: true,
  },
  { words: "Register", hint: "all sites", synonyms: "list inventory sites", to: "/" },
  {
    words: "Keys",
    hint: "sites without two fit owners",
    synonyms: "owner ownership orphan transfer leaver hand over handover",
    to: "/keys",
    isDesk: true,
  },
  {
    words: "Attic",
    hint: "put-away sites and how long they are kept",
    synonyms: "bin trash deleted recycle restore recover undelete purge clear hold",
    to: "/attic",
  },
  { words: "Journal", hint: "who did what, when", synonyms: "audit log history export evidence", to: "/journal" },
  {
    words: "Sources",
    hint: "where the register has it from, and how complete that is",
    synonyms: "hosts connectors import sync read coverage missing why not here",
    to: "/sources",
    isDesk: true,
  },
  {
    words: "Accounts",
    hint: "who may sign in, as what, and where they are signed in",
    synonyms: "users roles permissions rbac admins login sessions access password steward",
    to: "/accounts",
    isAccounts: true,
  },
  {
    words: "The first week",
    hint: "what nobody has said of sites: unit, class, purpose",
    synonyms: "classify classification onboarding triage untagged unknown missing cannot tell proposals",
    to: "/first-week",
    isDesk: true,
  },
  {
    words: "Words",
    hint: "the house's classes, purposes and tags, and what else means them",
    synonyms: "tag label synonym vocabulary merge rename glossary classification approved list",
    to: "/words",
    isDesk: true,
  },
  {
    words: "Days to come",
    hint: "what ends and when, and a link for your calendar",
    synonyms: "calendar deadlines dates ical subscribe feed due lapse",
    to: "/calendar",
  },
  {
    words: "Reports",
    hint: "outside access, owners, holds, deeds, the register as it stood on a day",
    synonyms: "report audit evidence print pdf export as of date history compliance coverage",
    to: "/reports",
    isEvidence: true,
  },
  { words: "Your sites", hint: "your own sites and offers", synonyms: "mine my own accept", to: "/yours" },
  {
    words: "Put a site away",
    hint: "find the site first; it is done on its page",
    synonyms: "delete remove trash retire archive",
    to: "/",
  },
  {
    words: "Bring a site back",
    hint: "from the attic",
    synonyms: "restore recover undelete unarchive",
    to: "/attic",
  },
  {
    words: "Narrow who gets in",
    hint: "sites that reach further than allowed",
    synonyms: "revoke restrict permission access share private close limit",
    to: "/",
    search: { reach: "beyond" },
  },
  {
    words: "Sites open to passers-by",
    hint: "anybody can read them",
    synonyms: "anonymous everyone internet world external outside guest",
    to: "/",
    search: { reach: "read-passers-by" },
  },
  {
    words: "Sites nobody can judge",
    hint: "a fact is missing",
    synonyms: "unknown unclear",
    to: "/",
    search: { rule: "unsure" },
  },
];

/** The places that have every word of a text in them, those that begin with it first. */
export function placesFor(text: string, role: Wire["Me"]["role"]): Place[] {
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const start = text.trim().toLowerCase();
  return places
    .filter((place) => !(role === "owner" && place.isDesk))
    .filter((place) => !place.isAccounts || role === "administrator")
    .filter((place) => !place.isEvidence || role === "administrator" || role === "auditor")
    .filter((place) => {
      const all = `${place.words} ${place.hint} ${place.synonyms}`.toLowerCase().split(/\s+/);
      return wanted.every((word) => all.some((one) => one.startsWith(word)));
    })
    .sort(
      (one, other) =>
        Number(other.words.toLowerCase().startsWith(start)) - Number(one.words.toLowerCase().startsWith(start)),
    );
}
