import { api, ok, type Schema } from "../api/client";
import { counted } from "../ui/words";
import type { Reading } from "./HowRead";
import { asItIs } from "./listFile";

export type Verdict = Schema["ImportRow"]["verdict"];

/** The mapping of a list as query parameters. */
export interface ReadingQuery {
  columns?: string[];
  words?: string[];
  days?: "day-first" | "month-first";
  kind?: "staff" | "guest" | "service";
}

export const asQuery = (how: Reading): ReadingQuery => ({
  columns: Object.entries(how.columns).map(([head, fact]) => `${head}=${fact}`),
  words: Object.entries(how.words).map(([word, meaning]) => `${word}=${meaning}`),
  ...(how.days ? { days: how.days } : {}),
  ...(how.kind ? { kind: how.kind } : {}),
});

/** One import. */
export interface SiteImport {
  id: number;
  importedAt: string;
  by: Schema["Person"];
  undoneAt: string | null;
  mayUndo: boolean;
  /** The result in words. */
  result: string;
  isUnderWay?: boolean;
}

/** The calls and labels that lists of sites and lists of people share. */
export interface ListKind {
  key: string;
  /** The heading of the column that names the row. */
  of: string;
  none: string;
  linkTo: (
    id: number,
  ) => { to: "/sites/$site"; params: { site: string } } | { to: "/people/$person"; params: { person: string } };
  rows: (
    file: File,
    query: ReadingQuery & { asOf?: string; verdict?: Verdict; offset: number; limit: number },
  ) => Promise<Schema["ImportRows"]>;
  faults: (file: File, query: ReadingQuery) => Promise<Blob>;
  siteImports: () => Promise<SiteImport[]>;
  planUndo: (siteImport: number) => Promise<Schema["UndoImportPlan"]>;
  undo: (siteImport: number, fingerprint: string) => Promise<unknown>;
  /** The plan to undo an import, in words. */
  undone: (plan: Schema["UndoImportPlan"]) => string;
}

export const listOfSites = (name: string): ListKind => ({
  key: name,
  of: "Site",
  none: "no site",
  linkTo: (id) => ({ to: "/sites/$site", params: { site: String(id) } }),
  rows: (file, query) =>
    ok(api.POST("/api/sources/{name}/imports/rows", { params: { path: { name }, query }, ...asItIs(file) })),
  faults: (file, query) =>
    ok(
      api.POST("/api/sources/{name}/imports/faults", {
        params: { path: { name }, query },
        ...asItIs(file),
        parseAs: "blob",
      }),
    ),
  siteImports: async () =>
    (await ok(api.GET("/api/sources/{name}/imports", { params: { path: { name } } }))).map((siteImport) => ({
      ...siteImport,
      result: siteImport.isUnderWay
        ? "running on the server; you can leave this page."
        : !siteImport.isEnded
          ? "the import did not finish. What was imported stays; import the list again."
          : siteImport.sites > 0
            ? `${counted(siteImport.sites, "site")} changed or new.`
            : "nothing changed.",
    })),
  planUndo: (siteImport) =>
    ok(api.POST("/api/sources/{name}/imports/{siteImport}/undo/plan", { params: { path: { name, siteImport } } })),
  undo: (siteImport, fingerprint) =>
    ok(
      api.POST("/api/sources/{name}/imports/{siteImport}/undo", {
        params: { path: { name, siteImport } },
        body: { fingerprint },
      }),
    ),
  undone: ({ restored, gone }) =>
    [
      restored > 0 && becomes(restored, "site"),
      gone > 0 && `${counted(gone, "site that it added is", "sites that it added are")} marked as no longer reported.`,
      "Manual tasks that it verified stay as they are.",
    ]
      .filter(Boolean)
      .join(" "),
});

export const listOfPeople: ListKind = {
  key: "people",
  of: "Person",
  none: "nobody",
  linkTo: (id) => ({ to: "/people/$person", params: { person: String(id) } }),
  rows: (file, query) => ok(api.POST("/api/people/imports/rows", { params: { query }, ...asItIs(file) })),
  faults: (file, query) =>
    ok(api.POST("/api/people/imports/faults", { params: { query }, ...asItIs(file), parseAs: "blob" })),
  siteImports: async () =>
    (await ok(api.GET("/api/people/imports"))).map((siteImport) => ({
      ...siteImport,
      result:
        siteImport.people > 0
          ? `${counted(siteImport.people, "person", "people")} changed or new.`
          : "nothing changed.",
    })),
  planUndo: (siteImport) =>
    ok(api.POST("/api/people/imports/{peopleImport}/undo/plan", { params: { path: { peopleImport: siteImport } } })),
  undo: (siteImport, fingerprint) =>
    ok(
      api.POST("/api/people/imports/{peopleImport}/undo", {
        params: { path: { peopleImport: siteImport } },
        body: { fingerprint },
      }),
    ),
  undone: ({ restored, gone }) =>
    [
      restored > 0 && becomes(restored, "person", "people"),
      gone > 0 && `${counted(gone, "person whom it added stays", "people whom it added stay")}, as having left.`,
    ]
      .filter(Boolean)
      .join(" "),
};

const becomes = (count: number, one: string, many = `${one}s`) =>
  `${counted(count, `${one} becomes`, `${many} become`)} what ${count === 1 ? `the ${one} was` : "they were"} before the list.`;
