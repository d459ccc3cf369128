import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt, Problem } from "./open";

const planned: Schema["ImportPlan"] = {
  fingerprint: "fp",
  sites: 2,
  new: 1,
  changed: 1,
  same: 0,
  refusals: 1,
  gone: 0,
  noLongerReported: [],
  hostChanges: [],
  rules: [{ rule: { id: "R-07", title: "No wider", short: "too wide", level: "critical" }, before: 3, after: 2 }],
  notSites: 1,
  refused: ['Line 4: "f1" is already in line 2 already.'],
  notUnderstood: 4000,
  problems: ['Line 2, unit: there is no unit "VTX".'],
  reading: {
    readAs: "UTF-8, separated by commas",
    columns: [
      { head: "Title", column: "name", because: "its heading means this fact" },
      { head: "colour", column: null, because: "no fact recognised" },
    ],
    facts: ["key", "name", "description"],
    days: "day-first",
    daysAreSure: false,
    dayExample: "03.02.2026",
    words: [],
    meanings: {},
    newUnits: [],
  },
};
const nothing = {
  ...planned,
  new: 0,
  changed: 0,
  refusals: 0,
  rules: [],
  notSites: 0,
  refused: [],
  notUnderstood: 0,
  problems: [],
};
const list = "POST /api/sources/Foreshore/imports";

async function choose(answers: Record<string, unknown>) {
  const sent = await openAt("/sources/Foreshore/import", { "GET /api/sources/Foreshore/imports": [], ...answers });
  const look = await screen.findByRole("button", { name: "Show the plan" });
  expect(look).toHaveProperty("disabled", true);
  // What stands in the file does not matter here: the server reads it, and it is asked in its own tests.
  fireEvent.change(screen.getByLabelText("File"), { target: { files: [new File(["{}"], "list.csv")] } });
  fireEvent.click(look);
  return sent;
}

describe("importing a list", () => {
  it("shows the plan and the place of every error before anything is written", async () => {
    const row = { line: 2, verdict: "changed", title: "Tide tables", id: 4, why: [] };
    const changes = [{ fact: "name", before: "Tides", after: "Tide tables" }];
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 1, rows: [{ ...row, changes }] },
    });
    const come = await screen.findByRole("region", { name: "Plan" });
    expect(await screen.findByText("Not understood: imported as not reported (4,000)")).toBeTruthy();
    expect(screen.getByText("3,999 more")).toBeTruthy();
    expect(within(come).getByRole("status").textContent).toBe(
      "2 sites in the list: 1 new one, 1 changed, 0 no longer reported.",
    );
    expect(come.textContent).toContain("too wide (R-07): 3 before, 2 after.");
    const lines = await screen.findByRole("region", { name: "Line by line" });
    expect((await within(lines).findByRole("link", { name: "Tide tables" })).getAttribute("href")).toBe("/sites/4");
    expect(lines.textContent).toContain("name: Tides becomes Tide tables");
    fireEvent.click(within(lines).getByRole("button", { name: "1 new" }));
    await waitFor(() => expect(sent.at(-1)?.query).toMatchObject({ verdict: "new" }));
    expect(within(come).getByText('Line 4: "f1" is already in line 2 already.')).toBeTruthy();
    expect(within(come).getByText('Line 2, unit: there is no unit "VTX".')).toBeTruthy();
    expect(sent.some(({ call }) => call === list)).toBe(false);
  });

  it("is imported as planned, and links to the imported sites", async () => {
    const sent = await choose({
      [`${list}/plan`]: nothing,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: { place: 7 },
    });
    expect(await screen.findByText(/the register has the same facts already/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Import 2 sites" }));
    expect(await screen.findByText("Imported.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Import 2 sites" })).toBeNull();
    expect(sent.filter(({ call }) => call === list)).toHaveLength(1);
  });

  it("shows the mapping of each column, and plans again with a corrected one", async () => {
    const sent = await choose({ [`${list}/plan`]: planned, [`${list}/rows`]: { total: 0, rows: [] } });
    const how = await screen.findByRole("region", { name: "Columns" });
    expect(how.textContent).toContain("As UTF-8, separated by commas.");
    expect(how.textContent).toContain("its heading means this fact");
    fireEvent.change(within(how).getByLabelText("colour is imported as"), { target: { value: "description" } });
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
    fireEvent.change(await screen.findByLabelText(/^03.02.2026 has/), { target: { value: "month-first" } });
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(3));
    expect(sent.filter(({ call }) => call === `${list}/plan`).at(-1)?.query).toEqual({
      whole: "true",
      columns: "colour=description",
      days: "month-first",
    });
  });

  it("is planned again if the effect has changed, and nothing is imported", async () => {
    const sent = await choose({
      [`${list}/plan`]: nothing,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: new Problem(409, planned),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Import 2 sites" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
    expect(screen.queryByText("Imported.")).toBeNull();
  });

  it("says why a file is not a list, and another file discards the plan", async () => {
    await choose({
      [`${list}/plan`]: new Problem(422, { title: 'Line 2: this is not UTF-8. Save the list as "CSV UTF-8".' }),
    });
    expect((await screen.findByRole("alert")).textContent).toContain("Line 2: this is not UTF-8.");
    fireEvent.click(screen.getByLabelText(/^The list is complete/));
    expect(screen.queryByRole("alert")).toBeNull();
  });
});

describe("undoing a list", () => {
  const siteImport: Schema["SiteImport"] = {
    id: 3,
    importedAt: "2026-11-26T08:00:00Z",
    by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
    sites: 4,
    isUnderWay: false,
    isEnded: true,
    undoneAt: null,
    mayUndo: true,
  };
  const undo = `POST /api/sources/Foreshore/imports/3/undo`;

  it("shows first what happens to its sites and what stays, and then does exactly that", async () => {
    const sent = await openAt("/sources/Foreshore/import", {
      "GET /api/sources/Foreshore/imports": [siteImport, { ...siteImport, id: 2, mayUndo: false }],
      [`${undo}/plan`]: { fingerprint: "fp", restored: 2, gone: 1, left: ["Tides"] },
      [undo]: { place: 9 },
    });
    const before = await screen.findByRole("region", { name: "Imports" });
    expect(within(before).getAllByRole("button")).toHaveLength(1);
    fireEvent.click(within(before).getByRole("button", { name: "Undo …" }));
    expect(await within(before).findByText(/2 sites become what they were before the list/)).toBeTruthy();
    expect(before.textContent).toContain("Changed later, and not undone: Tides.");
    fireEvent.click(within(before).getByRole("button", { name: "Undo the import" }));
    await waitFor(() => expect(sent).toContainEqual({ call: undo, body: { fingerprint: "fp" } }));
  });
});

describe("the manual procedure of a host", () => {
  it("keeps what was typed, and shows the reason of a refusal beside it", async () => {
    const sent = await openAt("/sources/manual-procedure", {
      "GET /api/sources": [],
      "PUT /api/sources/Strand/manual-procedure": new Problem(422, {
        title: "No member of staff has the mail address x@merrowby.example.",
      }),
    });
    fireEvent.change(await screen.findByLabelText("The host's name"), { target: { value: "Strand" } });
    fireEvent.change(screen.getByLabelText("Who does the tasks"), { target: { value: " x@merrowby.example " } });
    fireEvent.click(screen.getByRole("button", { name: "Save the procedure" }));
    expect((await screen.findByRole("alert")).textContent).toContain("No member of staff has");
    expect(sent.find(({ call }) => call.startsWith("PUT"))?.body).toMatchObject({
      days: 5,
      assignee: "x@merrowby.example",
    });
    expect(screen.getByLabelText("The host's name")).toHaveProperty("value", "Strand");
  });
});
