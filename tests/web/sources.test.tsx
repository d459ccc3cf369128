import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { posts } from "./fixtures";
import { openAt } from "./open";

const source = (name: string, more: Partial<Schema["Source"]> = {}): Schema["Source"] => ({
  name,
  began: "2026-11-26T06:00:00Z",
  ended: "2026-11-26T06:01:00Z",
  complete: true,
  read: 8,
  expected: 8,
  refused: [],
  error: null,
  isSyncing: false,
  sites: 8,
  attic: 0,
  noLongerReported: 0,
  heldBack: 0,
  gaps: [],
  capabilities: [],
  manualProcedure: null,
  requestedAt: null,
  changes: 0,
  goesOn: false,
  budget: null,
  ...more,
});

describe("the sources", () => {
  const lantern = source("Lantern", {
    gaps: [{ fact: "the classification", sites: 8, filter: 'host eq "Lantern" and classification pr' }],
    capabilities: ["Deletes for good."],
    noLongerReported: 1,
  });

  it("shows for each how complete it is, what it does not report, and its capabilities", async () => {
    const cut = source("Quay", {
      complete: false,
      error: "Quay did not complete its answer to sites?page=2.",
      sites: null,
    });
    await openAt("/sources", { "GET /api/sources": [lantern, cut] });
    const one = await screen.findByRole("region", { name: "Lantern" });
    expect(within(one).getByText(/^Synced .*, completely\.$/)).toBeTruthy();
    expect(within(one).getByText("Deletes for good.")).toBeTruthy();
    expect(within(one).getByRole("link", { name: "1 site no longer reported" })).toBeTruthy();
    const missing = within(one).getByText(/^the classification, for/);
    expect(
      decodeURIComponent(within(missing).getByRole("link", { name: "8 sites" }).getAttribute("href") ?? ""),
    ).toMatch(/classification\+pr&verdict=cannot-tell/);
    expect(
      screen.getByText(/Quay could not be synced completely: no site is marked as no longer reported/),
    ).toBeTruthy();
    expect(
      within(screen.getByRole("region", { name: "Quay" })).getByText(
        "Quay did not complete its answer to sites?page=2.",
      ),
    ).toBeTruthy();
  });

  it("shows the changes since the last sync, how a sync continues, and how many requests are left", async () => {
    const told = source("Slipway", {
      requestedAt: new Date().toISOString(),
      changes: 3,
      budget: { allowed: 6000, left: 5200 },
    });
    const cut = source("Quay", { complete: false, goesOn: true });
    await openAt("/sources", { "GET /api/sources": [told, cut] });
    const one = await screen.findByRole("region", { name: "Slipway" });
    expect(within(one).getByText(/3 sites have changed since, as reported just now\./)).toBeTruthy();
    expect(within(one).getByText(/Of the 6,000 requests that it allows, 5,200 are left\./)).toBeTruthy();
    expect(screen.getByText(/not completely; the next sync continues there\./)).toBeTruthy();
  });

  it("shows where a missing site is, or the possible reasons", async () => {
    const found = {
      id: 4,
      title: "Old lifeboat fund",
      address: null,
      host: "Lantern",
      unit: null,
      existence: "attic",
      status: null,
      noLongerReported: false,
    };
    const sent = await openAt("/sources", {
      "GET /api/sources": [lantern],
      "GET /api/sources/why-not": {
        sites: [found],
        moreSites: 0,
        refused: ["Quay left out: s12: Old lifeboat crew"],
        words: [],
      },
    });
    const field = await screen.findByLabelText("Why is a site not here?");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Search" }).disabled).toBe(true);
    fireEvent.change(field, { target: { value: " lifeboat " } });
    fireEvent.click(screen.getByRole("button", { name: "Search" }));
    expect(await screen.findByText(/is in the attic\. The register shows it only/)).toBeTruthy();
    expect(screen.getByText("Quay left out: s12: Old lifeboat crew")).toBeTruthy();
    expect(sent.filter((one) => one.call === "GET /api/sources/why-not")).toHaveLength(1);
  });

  it("lets an administrator sync one now, and nobody else", async () => {
    const answers = { "GET /api/sources": [lantern], "POST /api/sources/Lantern/sync": null };
    const sent = await openAt("/sources", answers);
    fireEvent.click(await screen.findByRole("button", { name: "Sync now" }));
    await screen.findByRole("region", { name: "Lantern" });
    expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/sources/Lantern/sync"]);
    document.body.replaceChildren();
    await openAt("/sources", answers, { role: "auditor", mayAct: false });
    await screen.findByRole("region", { name: "Lantern" });
    expect(screen.queryByRole("button", { name: "Sync now" })).toBeNull();
  });
});
