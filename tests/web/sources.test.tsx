import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { posts } from "./fixtures";
import { openAt } from "./open";

const source = (name: string, more: Partial<Wire["SourceWire"]> = {}): Wire["SourceWire"] => ({
  name,
  began: "2026-11-26T06:00:00Z",
  ended: "2026-11-26T06:01:00Z",
  complete: true,
  read: 8,
  expected: 8,
  refused: [],
  error: null,
  isReading: false,
  sites: 8,
  attic: 0,
  vanished: 0,
  heldBack: 0,
  gaps: [],
  habits: [],
  hand: null,
  askedAt: null,
  changes: 0,
  goesOn: false,
  budget: null,
  ...more,
});

describe("the sources", () => {
  const lantern = source("Lantern", {
    gaps: [{ fact: "the class", sites: 8, filter: 'host eq "Lantern" and class pr' }],
    habits: ["Deletes for good."],
    vanished: 1,
  });

  it("says of each how complete it is, what it leaves out and what it is like", async () => {
    const cut = source("Quay", { complete: false, error: "Quay did not answer sites?page=2.", sites: null });
    await openAt("/sources", { "GET /api/sources": [lantern, cut] });
    const one = await screen.findByRole("region", { name: "Lantern" }, { timeout: 5000 });
    expect(within(one).getByText(/^Read .*, to the end\.$/)).toBeTruthy();
    expect(within(one).getByText("Deletes for good.")).toBeTruthy();
    expect(within(one).getByRole("link", { name: "1 site has vanished" })).toBeTruthy();
    const missing = within(one).getByText(/^the class, of/);
    expect(
      decodeURIComponent(within(missing).getByRole("link", { name: "8 sites" }).getAttribute("href") ?? ""),
    ).toMatch(/class\+pr&verdict=cannot-tell/);
    expect(screen.getByText(/Quay could not be read to the end: no site vanishes by that/)).toBeTruthy();
    expect(
      within(screen.getByRole("region", { name: "Quay" })).getByText("Quay did not answer sites?page=2."),
    ).toBeTruthy();
  });

  it("says what a host has told since it was read, how a read goes on, and how many requests are left", async () => {
    const told = source("Slipway", {
      askedAt: new Date().toISOString(),
      changes: 3,
      budget: { allowed: 6000, left: 5200 },
    });
    const cut = source("Quay", { complete: false, goesOn: true });
    await openAt("/sources", { "GET /api/sources": [told, cut] });
    const one = await screen.findByRole("region", { name: "Slipway" }, { timeout: 5000 });
    expect(within(one).getByText(/3 sites have changed since, as it said just now\./)).toBeTruthy();
    expect(within(one).getByText(/Of the 6,000 requests that it allows, 5,200 are left\./)).toBeTruthy();
    expect(screen.getByText(/not to the end; the next read goes on from there\./)).toBeTruthy();
  });

  it("says where a site is that somebody misses, or what can be said of it", async () => {
    const found = {
      id: 4,
      title: "Old lifeboat fund",
      address: null,
      host: "Lantern",
      unit: null,
      existence: "attic",
      stage: null,
      vanished: false,
    };
    const sent = await openAt("/sources", {
      "GET /api/sources": [lantern],
      "GET /api/sources/why-not": {
        sites: [found],
        moreSites: 0,
        refused: ["Quay withheld s12: Old lifeboat crew"],
        words: [],
      },
    });
    const field = await screen.findByLabelText("Why is a site not here?");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Look" }).disabled).toBe(true);
    fireEvent.change(field, { target: { value: " lifeboat " } });
    fireEvent.click(screen.getByRole("button", { name: "Look" }));
    expect(await screen.findByText(/lies in the attic, so the register leaves it out/)).toBeTruthy();
    expect(screen.getByText("Quay withheld s12: Old lifeboat crew")).toBeTruthy();
    expect(sent.filter((one) => one.call === "GET /api/sources/why-not")).toHaveLength(1);
  });

  it("lets an administrator read one now, and nobody else", async () => {
    const answers = { "GET /api/sources": [lantern], "POST /api/sources/Lantern/read": null };
    const sent = await openAt("/sources", answers);
    fireEvent.click(await screen.findByRole("button", { name: "Read now" }));
    await screen.findByRole("region", { name: "Lantern" });
    expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/sources/Lantern/read"]);
    document.body.replaceChildren();
    await openAt("/sources", answers, { role: "auditor", mayAct: false });
    await screen.findByRole("region", { name: "Lantern" });
    expect(screen.queryByRole("button", { name: "Read now" })).toBeNull();
  });
});
