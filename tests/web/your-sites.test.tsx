import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { openAt } from "./open";

describe("your sites", () => {
  const site = {
    id: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    status: "published",
    published: null,
    findings: [],
    byName: true,
    others: [],
    atticEntry: null,
    offered: null,
    underWay: 0,
  };
  const owner = { role: "owner", name: "Idris Vane" };

  it("offers the possible actions for each, and no handover of ownership through a group", async () => {
    await openAt(
      "/your-sites",
      {
        "GET /api/your-sites": {
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
    expect(screen.getAllByRole("link", { name: "Move to the attic …" })).toHaveLength(2);
  });

  it("explains an empty list", async () => {
    await openAt("/your-sites", { "GET /api/your-sites": { person: 3, offers: [], given: [], sites: [] } }, owner);
    expect(await screen.findByText(/You own none/)).toBeTruthy();
  });
});
