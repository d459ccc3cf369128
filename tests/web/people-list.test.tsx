import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt, Problem } from "./open";

const planned: Schema["PeoplePlan"] = {
  fingerprint: "fp",
  people: 3,
  new: 1,
  changed: 1,
  same: 1,
  refusals: 1,
  sites: 4,
  rules: [
    {
      rule: { id: "R-02", title: "Two active owners", short: "too few owners", level: "critical" },
      before: 3,
      after: 5,
    },
  ],
  notUnderstood: 1,
  problems: ["Line 5: the mail address is missing.", 'Line 2, unit: there is no unit "XYZ".'],
  reading: {
    readAs: "UTF-8, separated by commas",
    columns: [{ head: "E-mail", column: "mail", because: "its heading means this fact" }],
    facts: ["mail", "name"],
    days: null,
    daysAreSure: true,
    dayExample: null,
    words: [],
    meanings: {},
    newUnits: [],
  },
};
const list = "POST /api/people/imports";
const siteImport: Schema["PeopleImport"] = {
  id: 3,
  importedAt: "2026-11-26T08:00:00Z",
  by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  people: 4,
  undoneAt: null,
  mayUndo: true,
};

async function choose(answers: Record<string, unknown>) {
  const sent = await openAt("/sources/people", { "GET /api/people/imports": [], ...answers });
  const look = await screen.findByRole("button", { name: "Show the plan" });
  expect(look).toHaveProperty("disabled", true);
  fireEvent.change(screen.getByLabelText("File"), { target: { files: [new File(["mail"], "people.csv")] } });
  fireEvent.click(look);
  return sent;
}

describe("importing a list of people", () => {
  it("shows whom it changes and the effect on their sites, and imports it as planned", async () => {
    const row = { line: 3, verdict: "changed", title: "Ada Ray", id: 8, why: [] };
    const changes = [{ fact: "standing", before: "current", after: "leaving" }];
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 1, rows: [{ ...row, changes }] },
      [list]: { place: 7 },
    });
    const come = await screen.findByRole("region", { name: "Plan" });
    expect(within(come).getByRole("status").textContent).toBe(
      "3 people in the list: 1 new, 1 changed. 4 sites may be affected: their access or owners change.",
    );
    expect(come.textContent).toContain("too few owners (R-02): 3 before, 5 after.");
    expect(within(come).getByText("Line 5: the mail address is missing.")).toBeTruthy();
    const lines = await screen.findByRole("region", { name: "Line by line" });
    expect((await within(lines).findByRole("link", { name: "Ada Ray" })).getAttribute("href")).toBe("/people/8");
    expect(lines.textContent).toContain("standing: current becomes leaving");
    expect(screen.getByRole("button", { name: "Export the lines to correct" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Import 2 people" }));
    expect(await screen.findByText(/^Imported\./)).toBeTruthy();
    expect(sent.filter(({ call }) => call === list).map(({ query }) => query)).toEqual([{ fingerprint: "fp" }]);
  });

  it("has nothing to import if the register has the same facts already", async () => {
    const same = { ...planned, new: 0, changed: 0, same: 3, sites: 0, refusals: 0, notUnderstood: 0, problems: [] };
    await choose({ [`${list}/plan`]: { ...same, rules: [] }, [`${list}/rows`]: { total: 0, rows: [] } });
    expect(await screen.findByText(/the register has the same facts already/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /^Import/ })).toBeNull();
  });

  it("gives a word one meaning for the whole list, adds the units it names, and keeps the plan on the screen meanwhile", async () => {
    const word = { lines: 12, meaning: null, isUnderstood: false };
    const reading: Schema["ListMapping"] = {
      ...planned.reading,
      words: [
        { ...word, of: "kind", word: "permanent", newUnit: null },
        { ...word, of: "unit", word: "Boat Shed", lines: 1, newUnit: "BOA" },
        { ...word, of: "unit", word: "Crane Yard", newUnit: "CRA" },
      ],
      meanings: {
        kind: [{ meaning: "staff", label: "staff" }],
        unit: [{ meaning: "PIL", label: "Pilotage (PIL)" }],
      },
    };
    let answer: unknown = { ...planned, reading };
    const sent = await choose({ [`${list}/plan`]: () => answer, [`${list}/rows`]: { total: 0, rows: [] } });
    const words = within(await screen.findByRole("region", { name: "Words of the list" }));
    expect(words.getByText("kind, 12 lines")).toBeTruthy();
    expect(words.getByText("unit, 1 line")).toBeTruthy();
    const last = () => sent.findLast(({ call }) => call === `${list}/plan`)?.query?.words;

    fireEvent.change(words.getByLabelText("“permanent” means"), { target: { value: "staff" } });
    // What is on the screen stays there until there is a new plan.
    expect(screen.getByRole("region", { name: "Plan" })).toBeTruthy();
    await waitFor(() => expect(last()).toBe("kind:permanent=staff"));

    fireEvent.change(words.getByLabelText("“Boat Shed” means"), { target: { value: "by-hand" } });
    fireEvent.change(words.getByLabelText("Code of the new unit Boat Shed"), { target: { value: "BOAT" } });
    answer = new Problem(422, {
      title: "BOAT is the code of Boats. Choose another code for Boat Shed.",
    });
    const add = words.getByRole("button", { name: "Add it" });
    await waitFor(() => expect(add).toHaveProperty("disabled", false));
    fireEvent.click(add);
    expect((await screen.findByRole("alert")).textContent).toContain("BOAT is the code of Boats.");
    expect(last()).toBe("unit:Boat Shed=new:BOAT");

    // What was refused is not asked again.
    answer = {
      ...planned,
      reading: { ...reading, newUnits: [{ code: "BOA", name: "Boat Shed" }] },
    };
    await waitFor(() => expect(words.getByRole("button", { name: /^Add 2/ })).toHaveProperty("disabled", false));
    fireEvent.click(words.getByRole("button", { name: "Add 2 new units with the proposed codes" }));
    expect(await words.findByText(/^The import adds 1 unit: Boat Shed \(BOA\)/)).toBeTruthy();
    expect(last()).toBe("unit:Crane Yard=new:CRA");
  });

  it("is planned again if the effect has changed", async () => {
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: new Problem(409, planned),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Import 2 people" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
  });

  it("is undone, after the effect on each person is shown", async () => {
    const undo = "POST /api/people/imports/3/undo";
    const sent = await openAt("/sources/people", {
      "GET /api/people/imports": [siteImport, { ...siteImport, id: 2, mayUndo: false }],
      [`${undo}/plan`]: { fingerprint: "fp", restored: 3, gone: 1, left: ["Ada Ray"] },
      [undo]: { place: 9 },
    });
    const before = await screen.findByRole("region", { name: "Imports" });
    expect(before.textContent).toContain("4 people changed or new.");
    fireEvent.click(within(before).getByRole("button", { name: "Undo …" }));
    expect(
      await within(before).findByText(
        "3 people become what they were before the list. 1 person whom it added stays, as having left.",
      ),
    ).toBeTruthy();
    expect(before.textContent).toContain("Changed later, and not undone: Ada Ray.");
    fireEvent.click(within(before).getByRole("button", { name: "Undo the import" }));
    await waitFor(() => expect(sent.find(({ call }) => call === undo)?.body).toEqual({ fingerprint: "fp" }));
  });
});
