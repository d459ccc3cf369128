import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { openAt, Problem } from "./open";

const planned: Wire["ListPlanWire"] = {
  fingerprint: "fp",
  sites: 2,
  new: 1,
  changed: 1,
  same: 0,
  refusals: 1,
  gone: 0,
  vanished: [],
  orders: [],
  rules: [{ rule: { id: "R-07", title: "No wider", short: "too wide", level: "must" }, before: 3, after: 2 }],
  notSites: 1,
  refused: ['Line 4: "f1" stands in line 2 already.'],
  notUnderstood: 4000,
  problems: ['Line 2, unit: there is no unit "VTX".'],
  reading: {
    readAs: "UTF-8, separated by commas",
    columns: [
      { head: "Title", column: "name", because: "its heading means it" },
      { head: "colour", column: null, because: "nothing speaks for a fact" },
    ],
    facts: ["key", "name", "description"],
    days: "day-first",
    daysAreSure: false,
    dayExample: "03.02.2026",
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
const list = "POST /api/sources/Foreshore/list";

async function choose(answers: Record<string, unknown>) {
  const sent = await openAt("/sources/Foreshore/list", { "GET /api/sources/Foreshore/list/takings": [], ...answers });
  const look = await screen.findByRole("button", { name: "See what it would come to" }, { timeout: 5000 });
  expect(look).toHaveProperty("disabled", true);
  // What stands in the file does not matter here: the server reads it, and it is asked in its own tests.
  fireEvent.change(screen.getByLabelText("The list"), { target: { files: [new File(["{}"], "list.csv")] } });
  fireEvent.click(look);
  return sent;
}

describe("taking in a list", () => {
  it("says what it would come to, with every fault by its place, before anything is written", async () => {
    const row = { line: 2, verdict: "changed", title: "Tide tables", id: 4, why: [] };
    const changes = [{ fact: "name", before: "Tides", after: "Tide tables" }];
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 1, rows: [{ ...row, changes }] },
    });
    const come = await screen.findByRole("region", { name: "What it would come to" });
    expect(await screen.findByText("Not understood: unknown then (4,000)")).toBeTruthy();
    expect(screen.getByText("3,999 more")).toBeTruthy();
    expect(within(come).getByRole("status").textContent).toBe("2 sites in the list: 1 new one, 1 changed, 0 vanished.");
    expect(come.textContent).toContain("too wide (R-07): 3 before, 2 after.");
    const lines = await screen.findByRole("region", { name: "Line by line" });
    expect((await within(lines).findByRole("link", { name: "Tide tables" })).getAttribute("href")).toBe("/sites/4");
    expect(lines.textContent).toContain("name: Tides becomes Tide tables");
    fireEvent.click(within(lines).getByRole("button", { name: "1 new" }));
    await waitFor(() => expect(sent.at(-1)?.query).toMatchObject({ verdict: "new" }));
    expect(within(come).getByText('Line 4: "f1" stands in line 2 already.')).toBeTruthy();
    expect(within(come).getByText('Line 2, unit: there is no unit "VTX".')).toBeTruthy();
    expect(sent.some(({ call }) => call === list)).toBe(false);
  });

  it("is taken in as it was planned, and leads to what was taken in", async () => {
    const sent = await choose({
      [`${list}/plan`]: nothing,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: { place: 7 },
    });
    expect(await screen.findByText(/the register says the same already/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take in 2 sites" }));
    expect(await screen.findByText("Taken in.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Take in 2 sites" })).toBeNull();
    expect(sent.filter(({ call }) => call === list)).toHaveLength(1);
  });

  it("shows how each column is read, and plans anew with what is corrected", async () => {
    const sent = await choose({ [`${list}/plan`]: planned, [`${list}/rows`]: { total: 0, rows: [] } });
    const how = await screen.findByRole("region", { name: "How it is read" });
    expect(how.textContent).toContain("As UTF-8, separated by commas.");
    expect(how.textContent).toContain("its heading means it");
    fireEvent.change(within(how).getByLabelText("colour is read as"), { target: { value: "description" } });
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
    fireEvent.change(await screen.findByLabelText(/^03.02.2026 is read with/), { target: { value: "month-first" } });
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(3));
    expect(sent.filter(({ call }) => call === `${list}/plan`).at(-1)?.query).toEqual({
      whole: "true",
      columns: "colour=description",
      days: "month-first",
    });
  });

  it("is planned anew where it would come to something else by now, and nothing is taken in", async () => {
    const sent = await choose({
      [`${list}/plan`]: nothing,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: new Problem(409, planned),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Take in 2 sites" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
    expect(screen.queryByText("Taken in.")).toBeNull();
  });

  it("says why a file is no list, and another choice forgets what was planned", async () => {
    await choose({
      [`${list}/plan`]: new Problem(422, { title: 'Line 2: this is not UTF-8. Save the list as "CSV UTF-8".' }),
    });
    expect((await screen.findByRole("alert")).textContent).toContain("Line 2: this is not UTF-8.");
    fireEvent.click(screen.getByLabelText(/^It names all sites there are/));
    expect(screen.queryByRole("alert")).toBeNull();
  });
});

describe("taking a list back", () => {
  const taking: Wire["ListTakingWire"] = {
    id: 3,
    takenAt: "2026-11-26T08:00:00Z",
    by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
    sites: 4,
    isUnderWay: false,
    isEnded: true,
    undoneAt: null,
    mayUndo: true,
  };
  const undo = `POST /api/sources/Foreshore/list/takings/3/undo`;

  it("says first what becomes of its sites and what is left, and then does just that", async () => {
    const sent = await openAt("/sources/Foreshore/list", {
      "GET /api/sources/Foreshore/list/takings": [taking, { ...taking, id: 2, mayUndo: false }],
      [`${undo}/plan`]: { fingerprint: "fp", restored: 2, gone: 1, left: ["Tides"] },
      [undo]: { place: 9 },
    });
    const before = await screen.findByRole("region", { name: "Taken in before" }, { timeout: 5000 });
    expect(within(before).getAllByRole("button")).toHaveLength(1);
    fireEvent.click(within(before).getByRole("button", { name: "Take it back …" }));
    expect(await within(before).findByText(/2 sites become what they were before the list/)).toBeTruthy();
    expect(before.textContent).toContain("Changed since, and left as they are: Tides.");
    fireEvent.click(within(before).getByRole("button", { name: "Take the list back" }));
    await waitFor(() => expect(sent).toContainEqual({ call: undo, body: { fingerprint: "fp" } }));
  });
});

describe("how a host is worked by hand", () => {
  it("keeps what is written, and what it is refused for stands beside it", async () => {
    const sent = await openAt("/sources/by-hand", {
      "GET /api/sources": [],
      "PUT /api/sources/Strand/hand": new Problem(422, {
        title: "Nobody of the staff has the mail address x@merrowby.example.",
      }),
    });
    fireEvent.change(await screen.findByLabelText("The host's name"), { target: { value: "Strand" } });
    fireEvent.change(screen.getByLabelText("Who does what is asked"), { target: { value: " x@merrowby.example " } });
    fireEvent.click(screen.getByRole("button", { name: "Keep it so" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Nobody of the staff has");
    expect(sent.find(({ call }) => call.startsWith("PUT"))?.body).toMatchObject({
      days: 5,
      doer: "x@merrowby.example",
    });
    expect(screen.getByLabelText("The host's name")).toHaveProperty("value", "Strand");
  });
});
