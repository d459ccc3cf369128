import { labels } from "../api/labels";
import type { Schema } from "../api/client";
import { counted, onDate } from "../ui/words";

type Outcome = Schema["BatchOutcome"];

type Counted = Pick<Schema["Batch"], "counts">;

interface Action {
  /** On a button, for the selected sites. */
  button?: string;
  /** `about`: the name of the person or group that it is about. */
  title: (sites: number, about: string) => string;
  /** On the button that starts it, if that is not the title. */
  start?: (sites: number) => string;
  /** While it is under way. */
  doing: (sites: number, about: string) => string;
}

/** The actions for many sites at once; those without a button undo another batch. */
export const bulkActions: Partial<Record<Schema["ActionName"], Action>> = {
  "site.restrict": {
    button: "Restrict to policy",
    title: (sites) => `Restrict ${counted(sites, "site")} to policy`,
    doing: (sites) => `Restricting ${counted(sites, "site")}`,
  },
  "owner.asked": {
    button: "Ask leaving owners",
    title: (sites) => `Ask the leaving owners of ${counted(sites, "site")} to hand over`,
    doing: (sites) => `Asking the leaving owners of ${counted(sites, "site")}`,
  },
  "site.move-to-attic": {
    button: "Move to the attic",
    title: (sites) => `Move ${counted(sites, "site")} to the attic`,
    doing: (sites) => `Moving ${counted(sites, "site")} to the attic`,
  },
  "site.look": {
    title: (sites) => `Rename ${counted(sites, "site")}`,
    doing: (sites) => `Renaming ${counted(sites, "site")}`,
  },
  "owner.offer": {
    title: (sites, about) => `Ask ${about} to own ${counted(sites, "site")} too`,
    doing: (sites, about) => `Asking ${about} to own ${counted(sites, "site")} too`,
  },
  "offer.withdraw": {
    title: (sites, about) => `Withdraw the offers of ${counted(sites, "site")} to ${about}`,
    doing: (sites, about) => `Withdrawing the offers of ${counted(sites, "site")} to ${about}`,
  },
  "offer.accept": {
    title: (sites) => `Accept the offers of ${counted(sites, "site")}`,
    doing: (sites) => `Accepting the offers of ${counted(sites, "site")}`,
  },
  "access.remove": {
    title: (sites, about) => `Remove the access of ${about} from ${counted(sites, "site")}`,
    doing: (sites, about) => `Removing the access of ${about} from ${counted(sites, "site")}`,
  },
  "exception.grant": {
    title: (sites) => `Grant exceptions on ${counted(sites, "site")}`,
    doing: (sites) => `Granting exceptions on ${counted(sites, "site")}`,
  },
  "exception.end": {
    title: (sites) => `End the exceptions of ${counted(sites, "site")}`,
    doing: (sites) => `Ending the exceptions of ${counted(sites, "site")}`,
  },
  "findings.remedy": {
    title: (sites, about) => `Remedies on ${counted(sites, "site")}: ${about}`,
    start: (sites) => `Carry out on ${counted(sites, "site")}`,
    doing: (sites, about) => `Carrying out remedies on ${counted(sites, "site")}: ${about}`,
  },
  "change.undo": {
    title: (sites) => `Undo the changes on ${counted(sites, "site")}`,
    doing: (sites) => `Undoing the changes on ${counted(sites, "site")}`,
  },
  "site.restore": {
    title: (sites) => `Restore ${counted(sites, "site")}`,
    doing: (sites) => `Restoring ${counted(sites, "site")}`,
  },
};

/** The same for a number of sites, after the number. */
export const outcomesLabel: Record<Outcome, string> = {
  ...labels.BatchOutcome,
  "asks-second": "wait for a second person",
  changed: "skipped, because the facts have changed",
};

export const outcomeLook: Record<Outcome, string> = {
  waiting: "text-second",
  "under-way": "text-slate",
  done: "text-moss",
  "asks-second": "text-ochre",
  changed: "text-ochre",
  refused: "text-second",
  "host-refused": "text-madder",
  contradicted: "text-madder",
  withdrawn: "text-second",
  "left-out": "text-second",
};

/** What is done on one site, where each has an action of its own. */
export function lineActionOf({ action, about, rule, through, name }: Schema["BatchLine"]): string {
  switch (action) {
    case "site.look":
      return name === null ? "Keeps its name" : `Rename to “${name}”`;
    case "site.restrict":
      return "Restrict to policy";
    case "site.move-to-attic":
      return "Move to the attic";
    case "site.restore":
      return "Restore";
    case "owner.asked":
      return "Ask the leaving owners to hand over";
    case "owner.offer":
      return `Ask ${about ?? "somebody"} to own it too`;
    case "offer.withdraw":
      return `Withdraw the offer to ${about ?? "somebody"}`;
    case "access.remove":
      return `Remove the access of ${about ?? "somebody"}`;
    case "exception.grant":
      return `Exception from ${rule?.id ?? "the rule"}${through ? ` until the end of ${onDate(through)}` : ""}`;
    case "exception.end":
      return `End the exception from ${rule?.id ?? "the rule"}`;
    case "change.undo":
      return "Undo the change";
    default:
      return "Nothing";
  }
}

/** The progress: "142 done, 3 refused by the host". */
export const standing = (batch: Counted) =>
  batch.counts.map(({ outcome, count }) => `${count.toLocaleString("en-GB")} ${outcomesLabel[outcome]}`).join(", ");

export const countOf = (batch: Counted, ...outcomes: Outcome[]) =>
  batch.counts.filter(({ outcome }) => outcomes.includes(outcome)).reduce((sum, { count }) => sum + count, 0);

/** What it does, in words: "Restrict 12 sites to policy". */
export const titleOf = (batch: Pick<Schema["Batch"], "action" | "about">, sites: number) =>
  bulkActions[batch.action]?.title(sites, batch.about ?? "somebody") ?? batch.action;

/** What starts it: "Restrict 12 sites to policy". */
export const startOf = (batch: Pick<Schema["Batch"], "action" | "about">, sites: number) =>
  bulkActions[batch.action]?.start?.(sites) ?? titleOf(batch, sites);

/** The same while it is under way. */
export const doingOf = (batch: Pick<Schema["Batch"], "action" | "about" | "sites">) =>
  bulkActions[batch.action]?.doing(batch.sites, batch.about ?? "somebody") ?? batch.action;

/** True if nothing of it will still be done. */
export const isOver = (batch: Counted & Pick<Schema["Batch"], "state">) =>
  batch.state === "ended" && countOf(batch, "under-way") === 0;
