import type { Schema } from "../api/client";
import type { RegisterSearch } from "../api/search";

/** A page or an action, found by its name here or by other words for it. */
export interface Place {
  words: string;
  hint: string;
  synonyms: string;
  to:
    | "/"
    | "/desk"
    | "/owners"
    | "/rules"
    | "/attic"
    | "/journal"
    | "/sources"
    | "/accounts"
    | "/classification"
    | "/vocabulary"
    | "/deadlines"
    | "/reports"
    | "/words"
    | "/tree"
    | "/twins"
    | "/start"
    | "/rename"
    | "/access"
    | "/limits"
    | "/guests"
    | "/your-sites";
  search?: RegisterSearch;
  /** A report, instead of the list of them. */
  report?: string;
  /** Not for owners, whose pages are fewer. */
  isDesk?: boolean;
  /** For those who see everything. */
  isEvidence?: boolean;
  /** Not for auditors, who change nothing. */
  isActing?: boolean;
  /** For administrators alone. */
  isAccounts?: boolean;
}

const places: Place[] = [
  {
    words: "Desk",
    hint: "the decisions that wait for you",
    synonyms: "home inbox todo queue approvals",
    to: "/desk",
    isDesk: true,
  },
  { words: "Register", hint: "all sites", synonyms: "list inventory sites", to: "/" },
  {
    words: "Owners",
    hint: "sites without two active owners",
    synonyms: "owner ownership orphan transfer leaver hand over handover",
    to: "/owners",
    isDesk: true,
  },
  {
    words: "Access",
    hint: "all sites by how far access goes, inside and outside",
    synonyms: "access reach matrix overview who gets in sharing open public exposure",
    to: "/access",
  },
  {
    words: "Guests",
    hint: "everybody from outside, their sponsors, and whether they are still needed",
    synonyms: "guest guests external outside invited invitation sponsor review partners visitors",
    to: "/guests",
    isDesk: true,
  },
  {
    words: "Limits",
    hint: "how far access may go, and who enforces it; a limit tried out",
    synonyms: "limit limits policy access cap guests outside sharing restriction",
    to: "/limits",
  },
  {
    words: "Rules",
    hint: "each rule with its numbers, and a rule tried out",
    synonyms: "rule policy policies compliance governance test simulate what if try",
    to: "/rules",
    isDesk: true,
  },
  {
    words: "Attic",
    hint: "deleted sites, and until when they can be restored",
    synonyms: "bin trash deleted recycle restore recover undelete purge clear hold",
    to: "/attic",
  },
  { words: "Journal", hint: "who did what, when", synonyms: "audit log history export evidence", to: "/journal" },
  {
    words: "Sources",
    hint: "where facts come from, and how complete they are",
    synonyms: "hosts connectors import sync read coverage missing why not here settings setup configuration",
    to: "/sources",
    isDesk: true,
  },
  {
    words: "Accounts",
    hint: "who may sign in, in which role, and open sessions",
    synonyms: "users roles permissions rbac admins login sessions access password steward settings",
    to: "/accounts",
    isAccounts: true,
  },
  {
    words: "Classification to complete",
    hint: "sites whose unit, classification or purpose is not set",
    synonyms: "classify classification onboarding triage untagged unknown missing cannot tell proposals",
    to: "/classification",
    isDesk: true,
  },
  {
    words: "Vocabulary",
    hint: "classifications, purposes and tags, and the words that mean them",
    synonyms: "tag label synonym vocabulary merge rename glossary classification approved list",
    to: "/vocabulary",
    isDesk: true,
  },
  {
    words: "Deadlines",
    hint: "what ends when, and a link for your calendar",
    synonyms: "calendar deadlines dates ical subscribe feed due lapse",
    to: "/deadlines",
  },
  {
    words: "Reports",
    hint: "outside access, owners, holds, actions, the register on a past day",
    synonyms: "report audit evidence print pdf export as of date history compliance coverage",
    to: "/reports",
    isEvidence: true,
  },
  {
    words: "Access from outside",
    hint: "every grant to guests, partners and anonymous visitors",
    synonyms: "guests external externals outside visitors sharing report who",
    to: "/reports",
    report: "outside",
    isEvidence: true,
  },
  {
    words: "Findings and their remedies",
    hint: "every broken rule, and whether its remedy clears it",
    synonyms: "rules violations breaches compliance fix remedy findings report",
    to: "/reports",
    report: "remedies",
    isEvidence: true,
  },
  {
    words: "Words used here",
    hint: "what each word means, and the legends",
    synonyms: "help glossary manual documentation explain legend meaning",
    to: "/words",
  },
  {
    words: "Sites as a tree",
    hint: "parents and what is below them, with totals",
    synonyms: "tree hierarchy parent children subsites structure nested totals",
    to: "/tree",
  },
  {
    words: "Near names",
    hint: "pairs of sites that may be one site made twice",
    synonyms: "twins duplicates duplicate double same similar look-alike names copies copy",
    to: "/twins",
  },
  {
    words: "Start a site",
    hint: "ask for a new one; what the rules allow is made at once",
    synonyms: "new create add make start request begin site provision set up launch",
    to: "/start",
    isActing: true,
  },
  {
    words: "New sites",
    hint: "the latest first",
    synonyms: "new recent latest",
    to: "/",
    search: { sort: "-created" },
  },
  {
    words: "Sites with unpublished changes",
    hint: "sites are published at their hosts",
    synonyms: "publish unpublished draft pending golive",
    to: "/",
    search: { status: "unpublished-changes" },
  },
  { words: "Your sites", hint: "your own sites and offers", synonyms: "mine my own accept", to: "/your-sites" },
  {
    words: "Move a site to the attic",
    hint: "find the site first; the action is on its page",
    synonyms: "delete remove trash retire archive",
    to: "/",
  },
  {
    words: "Restore a site",
    hint: "from the attic",
    synonyms: "restore recover undelete unarchive",
    to: "/attic",
  },
  {
    words: "Rename sites from a list",
    hint: "new names for many sites",
    synonyms: "name title bulk csv spreadsheet",
    to: "/rename",
  },
  {
    words: "Web domains",
    hint: "sites that a web domain shows",
    synonyms: "domain dns host name url",
    to: "/",
    search: { filter: "domains pr", show: ["domains", "status"] },
  },
  {
    words: "Web domains that lead nowhere",
    hint: "the site is in the attic, erased, offline or never published",
    synonyms: "dead domain dangling dns broken",
    to: "/",
    search: {
      filter: 'domains pr and (existence ne "in-use" or status eq "offline" or status eq "never-published")',
      show: ["domains", "existence", "status"],
    },
  },
  {
    words: "Restrict access",
    hint: "sites that exceed policy",
    synonyms: "revoke restrict permission access share private close limit",
    to: "/",
    search: { reach: "exceeds" },
  },
  {
    words: "Sites open to anonymous visitors",
    hint: "anybody can view them",
    synonyms: "anonymous everyone internet world external outside guest",
    to: "/",
    search: { reach: "read-anonymous" },
  },
  {
    words: "Sites where a rule cannot tell",
    hint: "a fact is missing",
    synonyms: "unknown unclear",
    to: "/",
    search: { rule: "unsure" },
  },
];

const smallWords = new Set(
  "a an are can do does has have how i in is my of on the to what where which who with".split(" "),
);

/** The places that contain every word of a text, in singular or plural, those that begin with it first. */
export function placesFor(text: string, role: Schema["Me"]["role"]): Place[] {
  const typed = text.toLowerCase().split(/\s+/).filter(Boolean);
  const meant = typed.filter((word) => !smallWords.has(word));
  const wanted = meant.length > 0 ? meant : typed;
  const start = text.trim().toLowerCase();
  return places
    .filter((place) => !(role === "owner" && place.isDesk))
    .filter((place) => !(role === "auditor" && place.isActing))
    .filter((place) => !place.isAccounts || role === "administrator")
    .filter((place) => !place.isEvidence || role === "administrator" || role === "auditor")
    .filter((place) => {
      const all = `${place.words} ${place.hint} ${place.synonyms}`.toLowerCase().split(/\s+/);
      return wanted.every((word) => all.some((one) => one.startsWith(word) || one === singular(word)));
    })
    .sort((one, other) => rank(one, start) - rank(other, start));
}

const singular = (word: string) => word.replace(/ies$/, "y").replace(/s$/, "");

/** The exact name first, then a name that begins with the text, then a whole word of it. */
function rank({ words, synonyms }: Place, start: string): number {
  const name = words.toLowerCase();
  if (name === start) return 0;
  if (name.startsWith(start)) return 1;
  return `${name} ${synonyms}`.split(" ").includes(start) ? 2 : 3;
}
