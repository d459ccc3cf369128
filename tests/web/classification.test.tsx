import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt } from "./open";

const week: Schema["Classification"] = {
  sites: 100,
  unsure: 40,
  disputed: 0,
  lacks: [
    { fact: "unit", missing: 9, proposed: 6 },
    { fact: "classification", missing: 30, proposed: 0 },
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
const plan: Schema["SetFactsPlan"] = {
  fingerprint: "fp",
  count: 6,
  settled: 5,
  rules: [{ rule: { id: "R-07", title: "No wider", short: "too wide", level: "critical" }, before: 0, after: 2 }],
  sites: [
    {
      id: 1,
      title: "Tug rota",
      address: null,
      host: "Slipway",
      value: "Tugs",
      code: "TUG",
      evidence: ["both owners who have a unit are in TUG"],
    },
  ],
  refused: null,
};

describe("classification to complete", () => {
  it("shows evidence and effect before anything is set, and how to undo it", async () => {
    const sent = await openAt("/classification?fact=unit", {
      "GET /api/classification": week,
      "POST /api/classification/facts/plan": plan,
      "POST /api/classification/facts": { place: 9, count: 6, together: "2026-11-26T08:00:00Z" },
      "POST /api/classification/facts/undo": { place: 10, count: 6, together: "2026-11-26T08:01:00Z" },
    });
    const proposed = await screen.findByRole("region", { name: "Proposed" });
    expect(screen.getByRole("img", { name: "60 percent of the sites: every rule can tell" })).toBeTruthy();
    fireEvent.click(within(proposed).getAllByRole("button", { name: "Review" })[0]!);
    expect(await within(proposed).findByText("both owners who have a unit are in TUG")).toBeTruthy();
    expect(within(proposed).getByText(/too wide \(R-07\): 0 before, 2 after\./)).toBeTruthy();
    fireEvent.click(within(proposed).getByRole("button", { name: "Set the proposed values for 6 sites" }));
    expect(await screen.findByText("The unit of 6 sites is set.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/classification/facts/undo")?.body).toEqual({
        fact: "unit",
        together: "2026-11-26T08:00:00Z",
        sites: null,
      }),
    );
  });

  it("does not set all sites at once if the evidence differs", async () => {
    await openAt("/classification?fact=unit", {
      "GET /api/classification": week,
      "POST /api/classification/facts/plan": plan,
    });
    const proposed = await screen.findByRole("region", { name: "Proposed" });
    fireEvent.click(within(proposed).getAllByRole("button", { name: "Review" })[1]!);
    expect(await within(proposed).findByText(/^The evidence differs/)).toBeTruthy();
    expect(within(proposed).queryByRole("button", { name: /^Say/ })).toBeNull();
  });

  it("needs a value before it can set the sites that share a word", async () => {
    const sent = await openAt("/classification?fact=unit", {
      "GET /api/classification": week,
      "POST /api/classification/facts/plan": plan,
    });
    const next = await screen.findByRole("region", { name: "Set next" });
    fireEvent.click(within(next).getByRole("button", { name: "Review" }));
    const choice = await within(next).findByLabelText(/^The unit of all of them is/);
    expect(within(next).queryByRole("button", { name: /^Say/ })).toBeNull();
    fireEvent.change(choice, { target: { value: "PIL" } });
    expect(await within(next).findByRole("button", { name: "Set “Pilotage” for 6 sites" })).toBeTruthy();
    expect(sent.filter(({ call }) => call === "POST /api/classification/facts/plan").at(-1)?.body).toMatchObject({
      group: "word:tide",
      value: "PIL",
    });
  });
});
