import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane } from "./fixtures";
import { openAt } from "./open";

describe("the desk", () => {
  const group = {
    person: null,
    standing: null,
    day: null,
    rule: { id: "R-07", title: "No wider than the house allows", short: "too wide", level: "must" },
    daysLeft: 0,
    count: 1,
    must: 1,
    should: 0,
    look: 0,
    onlyOwner: 0,
    sites: [{ id: 1, title: "Claims rota" }],
  };

  it("names the person or the rule behind findings, with days and where to act", async () => {
    await openAt("/desk", {
      "GET /api/desk": {
        sites: 9,
        findings: 3,
        approvals: [],
        offers: [],
        heard: [],
        groups: [
          group,
          {
            ...group,
            person: vane,
            rule: null,
            standing: "leaving",
            day: "2099-12-01",
            daysLeft: 6,
            count: 2,
            must: 0,
            should: 2,
            onlyOwner: 1,
          },
        ],
      },
    });
    expect(await screen.findByText("No wider than the house allows: 1 site does not keep it")).toBeTruthy();
    expect(screen.getByText("Idris Vane leaves on 1 Dec 2099 and holds keys of 2 sites")).toBeTruthy();
    expect(screen.getByText("6 days")).toBeTruthy();
    expect(screen.getByRole("link", { name: "See the keys" }).getAttribute("href")).toBe("/keys?person=3");
    expect(screen.getByRole("link", { name: "See the 1 site" }).getAttribute("href")).toBe("/?rule=R-07");
  });

  it("says so where nothing is to be decided", async () => {
    await openAt("/desk", {
      "GET /api/desk": { sites: 9, findings: 0, approvals: [], offers: [], heard: [], groups: [] },
    });
    expect(await screen.findByRole("heading", { name: "Nothing is to be decided" })).toBeTruthy();
  });
});
