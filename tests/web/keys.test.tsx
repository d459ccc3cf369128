import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane } from "./fixtures";
import { openAt } from "./open";

describe("keys", () => {
  const line = {
    site: 7,
    title: "Night pilots",
    address: null,
    unit: null,
    state: "none",
    reasons: ["leaving"],
    daysLeft: 6,
    lastDay: "2099-12-01",
    sure: true,
    holders: [{ person: vane, isFit: false, isGone: false, note: "leaves on 1 Dec", through: null }],
    asked: null,
  };
  const keys = {
    lines: [line, { ...line, site: 8, title: "Yard", state: "single", daysLeft: null, holders: [] }],
    none: 1,
    single: 1,
    fit: 4,
    whole: 6,
  };

  it("says how many days are left, why nobody is fit, and narrows by the sentence", async () => {
    await openAt("/keys", { "GET /api/keys": keys });
    expect(await screen.findByText(/1 without a fit owner, 1 with one, 4 with two or more, of 6 sites/)).toBeTruthy();
    expect(screen.getByText("not fit: leaving")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Give the key …" }).getAttribute("href")).toBe("/sites/8/hand-over");
    fireEvent.change(screen.getByLabelText("Which ownership"), { target: { value: "none" } });
    await waitFor(() => expect(screen.queryByText("Yard")).toBeNull());
  });

  it("shows one person's keys by link", async () => {
    await openAt("/keys?person=3", { "GET /api/keys": keys });
    expect(await screen.findByText("Night pilots")).toBeTruthy();
    expect(screen.queryByText("Yard")).toBeNull();
  });
});
