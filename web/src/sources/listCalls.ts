import { api, ok, type Wire } from "../api/client";
import { counted } from "../ledger/words";
import type { Reading } from "./HowRead";
import { asItIs } from "./listFile";

export type Verdict = Wire["ListRowWire"]["verdict"];

/** How a list is to be understood, as calls want it. */
export interface ReadingQuery {
  columns?: string[];
  days?: "day-first" | "month-first";
}

export const asQuery = (how: Reading): ReadingQuery => ({
  columns: Object.entries(how.columns).map(([head, fact]) => `${head}=${fact}`),
  ...(how.days ? { days: how.days } : {}),
});

/** A list that was taken in. */
export interface Taking {
  id: number;
  takenAt: string;
  by: Wire["PersonWire"];
  undoneAt: string | null;
  mayUndo: boolean;
  /** What came of it, in words. */
  result: string;
  isUnderWay?: boolean;
}

/** What lists of all kinds can be asked for, and how their lines are spoken of. */
export interface ListKind {
  key: string;
  /** The heading above what the lines are of. */
  of: string;
  none: string;
  linkTo: (
    id: number,
  ) => { to: "/sites/$site"; params: { site: string } } | { to: "/people/$person"; params: { person: string } };
  rows: (
    file: File,
    query: ReadingQuery & { asOf?: string; verdict?: Verdict; offset: number; limit: number },
  ) => Promise<Wire["ListRowsWire"]>;
  faults: (file: File, query: ReadingQuery) => Promise<Blob>;
  takings: () => Promise<Taking[]>;
  planUndo: (taking: number) => Promise<Wire["ListUndoPlanWire"]>;
  undo: (taking: number, fingerprint: string) => Promise<unknown>;
  /** What taking one back comes to. */
  undone: (plan: Wire["ListUndoPlanWire"]) => string;
}

export const listOfSites = (name: string): ListKind => ({
  key: name,
  of: "Site",
  none: "no site",
  linkTo: (id) => ({ to: "/sites/$site", params: { site: String(id) } }),
  rows: (file, query) =>
    ok(api.POST("/api/sources/{name}/list/rows", { params: { path: { name }, query }, ...asItIs(file) })),
  faults: (file, query) =>
    ok(
      api.POST("/api/sources/{name}/list/faults", {
        params: { path: { name }, query },
        ...asItIs(file),
        parseAs: "blob",
      }),
    ),
  takings: async () =>
    (await ok(api.GET("/api/sources/{name}/list/takings", { params: { path: { name } } }))).map((taking) => ({
      ...taking,
      result: taking.isUnderWay
        ? "it is being taken in, and goes on by itself; you may leave this page."
        : !taking.isEnded
          ? "it was not taken in to its end. What was taken in stays; take it in again."
          : taking.sites > 0
            ? `${counted(taking.sites, "site")} changed or new.`
            : "nothing changed.",
    })),
  planUndo: (taking) =>
    ok(api.POST("/api/sources/{name}/list/takings/{taking}/undo/plan", { params: { path: { name, taking } } })),
  undo: (taking, fingerprint) =>
    ok(
      api.POST("/api/sources/{name}/list/takings/{taking}/undo", {
        params: { path: { name, taking } },
        body: { fingerprint },
      }),
    ),
  undone: ({ restored, gone }) =>
    [
      restored > 0 && becomes(restored, "site"),
      gone > 0 && `${counted(gone, "site that it brought is", "sites that it brought are")} marked as vanished.`,
      "Orders that it showed done stay as they are.",
    ]
      .filter(Boolean)
      .join(" "),
});

export const listOfPeople: ListKind = {
  key: "people",
  of: "Person",
  none: "nobody",
  linkTo: (id) => ({ to: "/people/$person", params: { person: String(id) } }),
  rows: (file, query) => ok(api.POST("/api/people/list/rows", { params: { query }, ...asItIs(file) })),
  faults: (file, query) =>
    ok(api.POST("/api/people/list/faults", { params: { query }, ...asItIs(file), parseAs: "blob" })),
  takings: async () =>
    (await ok(api.GET("/api/people/list/takings"))).map((taking) => ({
      ...taking,
      result: taking.people > 0 ? `${counted(taking.people, "person", "people")} changed or new.` : "nothing changed.",
    })),
  planUndo: (taking) => ok(api.POST("/api/people/list/takings/{taking}/undo/plan", { params: { path: { taking } } })),
  undo: (taking, fingerprint) =>
    ok(api.POST("/api/people/list/takings/{taking}/undo", { params: { path: { taking } }, body: { fingerprint } })),
  undone: ({ restored, gone }) =>
    [
      restored > 0 && becomes(restored, "person", "people"),
      gone > 0 && `${counted(gone, "person whom it brought stays", "people whom it brought stay")}, as having left.`,
    ]
      .filter(Boolean)
      .join(" "),
};

const becomes = (count: number, one: string, many = `${one}s`) =>
  `${counted(count, `${one} becomes`, `${many} become`)} what ${count === 1 ? `the ${one} was` : "they were"} before the list.`;
