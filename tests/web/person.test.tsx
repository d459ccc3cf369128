import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { person, vane } from "./fixtures";
import { openAt } from "./open";

describe("a person's page", () => {
  const site = (id: number, title: string, power: string, more: Record<string, unknown> = {}) => ({
    id,
    title,
    address: `slipway.example/${id}`,
    unit: null,
    power,
    through: null,
    onlyActive: false,
    existence: "in-use",
    ...more,
  });
  const page = {
    person: vane,
    kind: "staff",
    unit: { code: "MAR", name: "Marine Operations" },
    standing: "leaving",
    day: "2099-12-01",
    mailFails: true,
    owns: 1,
    edits: 1,
    offers: [{ id: "o7", title: "Tide tables", isToThem: true, state: "open", through: "2099-11-30" }],
    sites: [
      site(1, "Claims rota", "own", { onlyActive: true }),
      site(2, "Storm desk", "edit", { through: "group Pilots" }),
      site(3, "Old log", "view", { existence: "attic" }),
    ],
    total: 5,
    asStaff: { view: 210, edit: 14 },
    sponsors: [],
    sponsored: [],
  };

  it("shows their status, their access to each site, and how they have it", async () => {
    await openAt("/people/3", { "GET /api/people/3": page });
    expect(await screen.findByRole("heading", { name: "Idris Vane" })).toBeTruthy();
    expect(screen.getByText("leaving, last day 1 Dec 2099")).toBeTruthy();
    expect(screen.getByText("Mail to this address failed.")).toBeTruthy();
    const staff = screen.getByRole("link", { name: "210 sites" }).getAttribute("href") ?? "";
    expect(decodeURIComponent(staff)).toContain("view.inside:is:staff");
    expect(within(screen.getByRole("row", { name: /Claims rota/ })).getByText("the only active owner")).toBeTruthy();
    expect(within(screen.getByRole("row", { name: /Storm desk/ })).getByText("Group Pilots")).toBeTruthy();
    expect(within(screen.getByRole("row", { name: /Old log/ })).getByText("(in the attic)")).toBeTruthy();
    expect(screen.getByText("2 more are not listed.")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Tide tables" }).getAttribute("href")).toBe("/offers/o7");
    const owned = screen.getByRole("link", { name: "See the owned sites in the register" }).getAttribute("href");
    expect(decodeURIComponent(owned ?? "")).toContain("owners.value:is:idris.vane@merrowby.example");
  });

  it("shows a guest's sponsors, whether they are still staff, and the guests a person sponsors", async () => {
    const guest = { person: person(9, "Ada Guest"), standing: "current", source: "Slipway" };
    await openAt("/people/3", { "GET /api/people/3": { ...page, sponsored: [guest] } });
    expect(await screen.findByRole("heading", { name: "Invited 1 guest" })).toBeTruthy();
    expect(screen.getByRole("link", { name: "Ada Guest" }).getAttribute("href")).toBe("/people/9");
    document.body.replaceChildren();

    const gone = { person: vane, standing: "left", source: "Slipway" };
    await openAt("/people/9", { "GET /api/people/9": { ...page, kind: "guest", sponsors: [gone] } });
    expect((await screen.findByText(/Invited by/)).textContent).toBe(
      "Invited by Idris Vane who left (Slipway reports it)",
    );
    document.body.replaceChildren();

    await openAt("/people/8", { "GET /api/people/8": { ...page, kind: "guest" } });
    expect(await screen.findByText("No source reports who invited them.")).toBeTruthy();
  });

  it("shows one kind of access alone, with counts", async () => {
    await openAt("/people/3", { "GET /api/people/3": page });
    fireEvent.click(await screen.findByRole("button", { name: "Edited 1" }));
    expect(screen.queryByRole("row", { name: /Claims rota/ })).toBeNull();
    expect(screen.getByRole("row", { name: /Storm desk/ })).toBeTruthy();
  });

  it("explains an unknown person, and one without sites", async () => {
    await openAt("/people/4", {});
    expect(await screen.findByRole("heading", { name: "There is no such person" })).toBeTruthy();
    document.body.replaceChildren();
    await openAt("/people/5", {
      "GET /api/people/5": {
        ...page,
        person: person(5, "Juno Lisle"),
        owns: 0,
        edits: 0,
        sites: [],
        total: 0,
        offers: [],
      },
    });
    expect(await screen.findByText("No site in your scope matches.")).toBeTruthy();
    expect(screen.queryByRole("link", { name: "See the owned sites in the register" })).toBeNull();
  });
});
