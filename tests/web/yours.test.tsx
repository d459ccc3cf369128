import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { openAt } from "./open";

describe("one's own sites", () => {
  const site = {
    id: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    stage: "live",
    live: null,
    findings: [],
    byName: true,
    others: [],
    stay: null,
    offered: null,
    underWay: 0,
  };
  const owner = { role: "owner", name: "Idris Vane" };

  it("offers what can be done with each, and no handing over of a key that is held through a group", async () => {
    await openAt(
      "/yours",
      {
        "GET /api/yours": {
          person: 3,
          offers: [],
          given: [],
          sites: [site, { ...site, id: 8, title: "Yard", byName: false }],
        },
      },
      owner,
    );
    expect(await screen.findByText("2 sites in use.")).toBeTruthy();
    expect(screen.getAllByRole("link", { name: "Hand over …" })).toHaveLength(1);
    expect(screen.getAllByRole("link", { name: "Put away …" })).toHaveLength(2);
  });

  it("explains an empty list", async () => {
    await openAt("/yours", { "GET /api/yours": { person: 3, offers: [], given: [], sites: [] } }, owner);
    expect(await screen.findByText(/You hold the key of no site/)).toBeTruthy();
  });
});
