import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { openAt, Problem } from "./open";

const planned: Wire["PeoplePlanWire"] = {
  fingerprint: "fp",
  people: 3,
  new: 1,
  changed: 1,
  same: 1,
  refusals: 1,
  sites: 4,
  rules: [{ rule: { id: "R-02", title: "Two keys", short: "too few keys", level: "must" }, before: 3, after: 5 }],
  notUnderstood: 1,
  problems: ["Line 5: no mail address.", 'Line 2, unit: there is no unit "XYZ".'],
  reading: {
    readAs: "UTF-8, separated by commas",
    columns: [{ head: "E-mail", column: "mail", because: "its heading means it" }],
    facts: ["mail", "name"],
    days: null,
    daysAreSure: true,
    dayExample: null,
  },
};
const list = "POST /api/people/list";
const taking: Wire["PeopleTakingWire"] = {
  id: 3,
  takenAt: "2026-11-26T08:00:00Z",
  by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  people: 4,
  undoneAt: null,
  mayUndo: true,
};

async function choose(answers: Record<string, unknown>) {
  const sent = await openAt("/sources/people", { "GET /api/people/list/takings": [], ...answers });
  const look = await screen.findByRole("button", { name: "See what it would come to" }, { timeout: 5000 });
  expect(look).toHaveProperty("disabled", true);
  fireEvent.change(screen.getByLabelText("The list"), { target: { files: [new File(["mail"], "people.csv")] } });
  fireEvent.click(look);
  return sent;
}

describe("taking in a list of people", () => {
  it("says whom it changes and what their sites would come to, and takes it in as planned", async () => {
    const row = { line: 3, verdict: "changed", title: "Ada Ray", id: 8, why: [] };
    const changes = [{ fact: "standing", before: "current", after: "leaving" }];
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 1, rows: [{ ...row, changes }] },
      [list]: { place: 7 },
    });
    const come = await screen.findByRole("region", { name: "What it would come to" });
    expect(within(come).getByRole("status").textContent).toBe(
      "3 people in the list: 1 new, 1 changed. 4 sites may feel it, by who gets in or who holds a key.",
    );
    expect(come.textContent).toContain("too few keys (R-02): 3 before, 5 after.");
    expect(within(come).getByText("Line 5: no mail address.")).toBeTruthy();
    const lines = await screen.findByRole("region", { name: "Line by line" });
    expect((await within(lines).findByRole("link", { name: "Ada Ray" })).getAttribute("href")).toBe("/people/8");
    expect(lines.textContent).toContain("standing: current becomes leaving");
    expect(screen.getByRole("button", { name: "Fetch the lines to mend" })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take in 2 people" }));
    expect(await screen.findByText(/^Taken in\./)).toBeTruthy();
    expect(sent.filter(({ call }) => call === list).map(({ query }) => query)).toEqual([{ fingerprint: "fp" }]);
  });

  it("has nothing to take in where the register says the same already", async () => {
    const same = { ...planned, new: 0, changed: 0, same: 3, sites: 0, refusals: 0, notUnderstood: 0, problems: [] };
    await choose({ [`${list}/plan`]: { ...same, rules: [] }, [`${list}/rows`]: { total: 0, rows: [] } });
    expect(await screen.findByText(/the register says the same already/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /^Take in/ })).toBeNull();
  });

  it("is planned anew where it would come to something else by now", async () => {
    const sent = await choose({
      [`${list}/plan`]: planned,
      [`${list}/rows`]: { total: 0, rows: [] },
      [list]: new Problem(409, planned),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Take in 2 people" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
    await waitFor(() => expect(sent.filter(({ call }) => call === `${list}/plan`)).toHaveLength(2));
  });

  it("is taken back, after it is said what becomes of whom", async () => {
    const undo = "POST /api/people/list/takings/3/undo";
    const sent = await openAt("/sources/people", {
      "GET /api/people/list/takings": [taking, { ...taking, id: 2, mayUndo: false }],
      [`${undo}/plan`]: { fingerprint: "fp", restored: 3, gone: 1, left: ["Ada Ray"] },
      [undo]: { place: 9 },
    });
    const before = await screen.findByRole("region", { name: "Taken in before" }, { timeout: 5000 });
    expect(before.textContent).toContain("4 people changed or new.");
    fireEvent.click(within(before).getByRole("button", { name: "Take it back …" }));
    expect(
      await within(before).findByText(
        "3 people become what they were before the list. 1 person whom it brought stays, as having left.",
      ),
    ).toBeTruthy();
    expect(before.textContent).toContain("Changed since, and left as they are: Ada Ray.");
    fireEvent.click(within(before).getByRole("button", { name: "Take the list back" }));
    await waitFor(() => expect(sent.find(({ call }) => call === undo)?.body).toEqual({ fingerprint: "fp" }));
  });
});
