import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt, type Answers, type Sent } from "./open";

const cell: Schema["ReachCell"] = {
  inside: { atLeast: 2, atMost: 2 },
  outside: { atLeast: 0, atMost: 0 },
  allowedInside: null,
  allowedOutside: null,
  words: "staff; no one outside",
};

const line = (id: number, title: string, more: Partial<Schema["RegisterRow"]> = {}): Schema["RegisterRow"] => ({
  id,
  title,
  address: `slipway.example/${id}`,
  host: "Slipway",
  fault: null,
  unit: null,
  status: "published",
  draft: cell,
  published: cell,
  siteOwners: "Idris Vane",
  ownerNote: null,
  lastEdit: "2026-11-12T07:00:00Z",
  findings: [],
  underWay: 0,
  cells: [],
  ...more,
});

const finding: Schema["Finding"] = {
  rule: "R-07",
  title: "Exceeds policy",
  short: "exceeds policy",
  level: "critical",
  cannotTell: false,
  since: null,
};

const rows = [
  line(11, "Tug crew rota", { findings: [finding], underWay: 1 }),
  line(12, "Gull count", { ownerNote: "no active owner", published: null }),
  line(13, "Slipway 3", { fault: "the stored access cannot be read", address: null, lastEdit: null }),
];

const answer = (more: Partial<Schema["Register"]> = {}): Schema["Register"] => ({
  lines: rows,
  total: rows.length,
  cannotTell: 0,
  whole: 328,
  units: [{ key: "PIL", words: "Pilotage", count: 2 }],
  reaches: [{ key: "exceeds", words: "exceed policy", count: 1 }],
  rules: [{ key: "any", words: "break a rule", count: 1 }],
  statuses: [{ key: "published", words: "published", count: 3 }],
  clauses: [],
  columns: [],
  coverage: [],
  filter: "",
  ...more,
});

const open = (path = "/", more: Partial<Schema["Register"]> = {}, answers: Answers = {}) =>
  openAt(path, { "GET /api/register": answer(more), "GET /api/views": [], "GET /api/batches": [], ...answers });

const asked = (sent: Sent[]) => sent.filter(({ call }) => call === "GET /api/register");
const bodyRows = async () => {
  await screen.findByRole("row", { name: /Tug crew rota/ });
  return within(screen.getByRole("grid", { name: "Sites" }))
    .getAllByRole("row")
    .slice(1);
};

describe("the register", () => {
  it("says how many sites match, and shows each with its access, owners, last edit and findings", async () => {
    await open();
    const [tug, gull, slip] = await bodyRows();
    expect(screen.getByText(/^3 of 328 sites/)).toBeTruthy();
    expect(tug?.textContent).toContain("exceeds policy");
    expect(tug?.textContent).toContain("under way");
    expect(gull?.textContent).toContain("never published");
    expect(gull?.textContent).toContain("no active owner");
    expect(gull?.textContent).toContain("no finding");
    // Unknown is not none: a row that cannot be computed says so and has no verdict.
    expect(slip?.textContent).toContain("cannot be computed");
    expect(slip?.textContent).toContain("not known");
    expect(slip?.textContent).not.toContain("no finding");
  });

  it("asks again for a chosen filter, which the address keeps", async () => {
    const sent = await open();
    await bodyRows();
    fireEvent.click(screen.getByRole("button", { name: /^Unit:/ }));
    fireEvent.click(await screen.findByRole("button", { name: /^in Pilotage/ }));
    await waitFor(() => expect(asked(sent).at(-1)?.query).toMatchObject({ unit: "PIL", offset: "0" }));
  });

  it("is operated by keyboard: the row in focus moves, and Space selects it", async () => {
    await open();
    await bodyRows();
    const grid = screen.getByRole("grid", { name: "Sites" });
    fireEvent.keyDown(grid, { key: "ArrowDown" });
    await waitFor(() => expect(grid.getAttribute("aria-activedescendant")).toBe("line-1"));
    fireEvent.keyDown(grid, { key: " " });
    await waitFor(() =>
      expect(screen.getByRole("row", { name: /Gull count/ }).getAttribute("aria-selected")).toBe("true"),
    );
    expect(screen.getByText(/^1 site selected|^1 selected/)).toBeTruthy();
    fireEvent.keyDown(grid, { key: "End" });
    await waitFor(() => expect(grid.getAttribute("aria-activedescendant")).toBe("line-2"));
  });

  it("shows additional columns with their words", async () => {
    await open("/?show=pages", {
      columns: [{ name: "pages", words: "pages", isSortable: true }],
      lines: [line(11, "Tug crew rota", { cells: ["48"] })],
      total: 1,
    });
    await bodyRows();
    const head = screen.getByRole("columnheader", { name: "Pages" });
    expect(screen.getByRole("gridcell", { name: "48" })).toBeTruthy();

    // A click on a heading sorts by it.
    expect(head.getAttribute("aria-sort")).toBeNull();
    fireEvent.click(within(head).getByRole("button"));
    await waitFor(() => expect(head.getAttribute("aria-sort")).toBe("ascending"));
    fireEvent.click(within(head).getByRole("button"));
    await waitFor(() => expect(head.getAttribute("aria-sort")).toBe("descending"));
  });

  it("says of an empty list which part of its filter leaves sites out, and removes it", async () => {
    await open(
      "/?unit=PIL&reach=exceeds",
      { lines: [], total: 0 },
      {
        "GET /api/register/left-out": [
          { part: "unit", place: null, words: "in Pilotage", without: 12, leavesOut: null },
          { part: "reach", place: null, words: "exceed policy", without: 0, leavesOut: null },
        ],
      },
    );
    const remove = await screen.findByRole("button", { name: "Remove it: in Pilotage" });
    expect(remove.closest("li")?.textContent).toContain("Without “in Pilotage”: 12 sites.");
    expect(screen.getAllByRole("button", { name: /^Remove it/ })).toHaveLength(1);
  });

  it("says that no site matches, and how to see all", async () => {
    await open("/?unit=PIL", { lines: [], total: 0 });
    expect(await screen.findByText(/^0 of 328 sites/)).toBeTruthy();
    expect(screen.queryByRole("row", { name: /Tug crew rota/ })).toBeNull();
  });
});
