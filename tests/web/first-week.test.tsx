import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { openAt } from "./open";

const week: Wire["FirstWeekWire"] = {
  sites: 100,
  unsure: 40,
  disputed: 0,
  lacks: [
    { fact: "unit", missing: 9, proposed: 6 },
    { fact: "class", missing: 30, proposed: 0 },
    { fact: "purpose", missing: 100, proposed: 0 },
  ],
  fact: "unit",
  proposals: [
    {
      key: "each:sure:owners",
      values: [
        { value: "PIL", name: "Pilotage", count: 4 },
        { value: "TUG", name: "Tugs", count: 2 },
      ],
      strength: "sure",
      kinds: ["owners"],
      count: 6,
      decides: 5,
      first: [{ id: 1, title: "Tug rota" }],
    },
    {
      key: "each:split:owners+word",
      values: [{ value: "PIL", name: "Pilotage", count: 1 }],
      strength: "split",
      kinds: ["owners", "word"],
      count: 1,
      decides: 0,
      first: [{ id: 9, title: "Odd one" }],
    },
  ],
  next: [{ key: "word:tide", word: "tide", count: 3, decides: 2, first: [{ id: 2, title: "Tide tables" }] }],
  choices: [
    { code: "PIL", name: "Pilotage" },
    { code: "TUG", name: "Tugs" },
  ],
};
const plan: Wire["SayPlanWire"] = {
  fingerprint: "fp",
  count: 6,
  told: 5,
  rules: [{ rule: { id: "R-07", title: "No wider", short: "too wide", level: "must" }, before: 0, after: 2 }],
  sites: [
    {
      id: 1,
      title: "Tug rota",
      address: null,
      host: "Slipway",
      value: "Tugs",
      evidence: ["both owners who have a unit are in TUG"],
    },
  ],
  refused: null,
};

describe("the first week", () => {
  it("shows evidence and effect before anything is said, and how to take it back", async () => {
    const sent = await openAt("/first-week?fact=unit", {
      "GET /api/first-week": week,
      "POST /api/said/plan": plan,
      "POST /api/said": { place: 9, count: 6, together: "2026-11-26T08:00:00Z" },
      "POST /api/said/take-back": { place: 10, count: 6, together: "2026-11-26T08:01:00Z" },
    });
    const proposed = await screen.findByRole("region", { name: "Proposed" }, { timeout: 5000 });
    expect(screen.getByRole("img", { name: "60 of a hundred sites can be told" })).toBeTruthy();
    fireEvent.click(within(proposed).getAllByRole("button", { name: "Look" })[0]!);
    expect(await within(proposed).findByText("both owners who have a unit are in TUG")).toBeTruthy();
    expect(within(proposed).getByText(/too wide \(R-07\): 0 before, 2 after\./)).toBeTruthy();
    fireEvent.click(within(proposed).getByRole("button", { name: "Say it of 6 sites, of each its own" }));
    expect(await screen.findByText("The unit of 6 sites is said.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Take it back" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/said/take-back")?.body).toEqual({
        fact: "unit",
        together: "2026-11-26T08:00:00Z",
        sites: null,
      }),
    );
  });

  it("says nothing of all at once where evidence differs", async () => {
    await openAt("/first-week?fact=unit", { "GET /api/first-week": week, "POST /api/said/plan": plan });
    const proposed = await screen.findByRole("region", { name: "Proposed" });
    fireEvent.click(within(proposed).getAllByRole("button", { name: "Look" })[1]!);
    expect(await within(proposed).findByText(/^Evidence differs here/)).toBeTruthy();
    expect(within(proposed).queryByRole("button", { name: /^Say/ })).toBeNull();
  });

  it("waits for a value before it says what a word has in common", async () => {
    const sent = await openAt("/first-week?fact=unit", { "GET /api/first-week": week, "POST /api/said/plan": plan });
    const next = await screen.findByRole("region", { name: "To say next" });
    fireEvent.click(within(next).getByRole("button", { name: "Look" }));
    const choice = await within(next).findByLabelText(/^The unit of all of them is/);
    expect(within(next).queryByRole("button", { name: /^Say/ })).toBeNull();
    fireEvent.change(choice, { target: { value: "PIL" } });
    expect(await within(next).findByRole("button", { name: "Say “Pilotage” of 6 sites" })).toBeTruthy();
    expect(sent.filter(({ call }) => call === "POST /api/said/plan").at(-1)?.body).toMatchObject({
      group: "word:tide",
      value: "PIL",
    });
  });
});
