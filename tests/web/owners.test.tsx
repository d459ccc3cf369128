import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane } from "./fixtures";
import { openAt } from "./open";

describe("owners", () => {
  const line = {
    site: 7,
    title: "Night pilots",
    address: null,
    unit: null,
    state: "none",
    reasons: ["leaving"],
    daysLeft: 6,
    lastDay: "2099-12-01",
    isComplete: true,
    holders: [{ person: vane, isActive: false, isGone: false, note: "leaves on 1 Dec", through: null }],
    offered: null,
  };
  const keys = {
    lines: [line, { ...line, site: 8, title: "Yard", state: "single", daysLeft: null, holders: [] }],
    none: 1,
    single: 1,
    active: 4,
    unknown: 1,
    whole: 7,
  };

  it("shows the days left, why nobody is active, and filters the list", async () => {
    await openAt("/owners", { "GET /api/owners": keys });
    expect(
      await screen.findByText(
        /1 without an active owner, 1 with one, 4 with two or more, 1 whose owners are not all reported, of 7 sites/,
      ),
    ).toBeTruthy();
    expect(screen.getByText("not active: leaving")).toBeTruthy();
    expect(screen.getAllByRole("link", { name: "Add an owner …" })[1]?.getAttribute("href")).toBe("/sites/8/add-owner");
    fireEvent.change(screen.getByLabelText("Which ownership"), { target: { value: "none" } });
    await waitFor(() => expect(screen.queryByText("Yard")).toBeNull());
  });

  it("shows the sites of one owner by link", async () => {
    await openAt("/owners?person=3", { "GET /api/owners": keys });
    expect(await screen.findByText("Night pilots")).toBeTruthy();
    expect(screen.queryByText("Yard")).toBeNull();
  });
});
