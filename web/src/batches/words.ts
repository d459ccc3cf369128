import type { Wire } from "../api/client";
import { counted } from "../ledger/words";

type Outcome = Wire["BatchOutcome"];

type Counted = Pick<Wire["BatchWire"], "counts">;

interface Deed {
  /** On a button, for sites that are marked. */
  button?: string;
  title: (sites: number) => string;
  /** While it is under way. */
  doing: (sites: number) => string;
}

/** The deeds that can be done on many sites at once; those without a button take another back. */
export const bulkDeeds: Record<string, Deed> = {
  "site.narrow": {
    button: "Narrow to what is allowed",
    title: (sites) => `Narrow ${counted(sites, "site")} to what the house permits`,
    doing: (sites) => `Narrowing ${counted(sites, "site")}`,
  },
  "key.ask": {
    button: "Ask leaving owners",
    title: (sites) => `Ask the leaving owners of ${counted(sites, "site")} to hand over`,
    doing: (sites) => `Asking the leaving owners of ${counted(sites, "site")}`,
  },
  "site.put-away": {
    button: "Put away",
    title: (sites) => `Put ${counted(sites, "site")} away`,
    doing: (sites) => `Putting ${counted(sites, "site")} away`,
  },
  "order.undo": {
    title: (sites) => `Take back what was changed on ${counted(sites, "site")}`,
    doing: (sites) => `Taking back on ${counted(sites, "site")}`,
  },
  "site.bring-back": {
    title: (sites) => `Bring ${counted(sites, "site")} back`,
    doing: (sites) => `Bringing ${counted(sites, "site")} back`,
  },
};

export const outcomeWords: Record<Outcome, string> = {
  waiting: "waits its turn",
  "under-way": "under way",
  done: "done",
  "asks-second": "waits for a second person",
  changed: "left alone: it comes to something else by now",
  refused: "cannot be done",
  "host-refused": "refused by the host",
  contradicted: "the host shows something else",
  withdrawn: "taken back",
};

/** The same where many lines stand, after their number. */
export const outcomesWords: Record<Outcome, string> = {
  ...outcomeWords,
  waiting: "wait their turn",
  "asks-second": "wait for a second person",
  changed: "left alone, for they come to something else by now",
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
};

/** How far it is: "142 done, 3 refused by the host". */
export const standing = (batch: Counted) =>
  batch.counts.map(({ outcome, count }) => `${count.toLocaleString("en-GB")} ${outcomesWords[outcome]}`).join(", ");

export const countOf = (batch: Counted, ...outcomes: Outcome[]) =>
  batch.counts.filter(({ outcome }) => outcomes.includes(outcome)).reduce((sum, { count }) => sum + count, 0);

/** Whether nothing of it is to come any more. */
export const isOver = (batch: Counted & Pick<Wire["BatchWire"], "state">) =>
  batch.state === "ended" && countOf(batch, "under-way") === 0;
