import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aske, plan, done, posts } from "./fixtures";
import { openAt } from "./open";

describe("what waits for a second person", () => {
  const approval = {
    id: "a1",
    state: "asked",
    deed: "key.offer",
    site: 7,
    title: "Storm desk",
    address: null,
    host: "Slipway",
    by: aske,
    reason: "left in spring",
    because: "Giving a key in the place of its holder takes two people.",
    askedAt: "2026-11-25T08:00:00Z",
    through: "2026-12-02",
    renewed: 1,
    mayAnswer: true,
    mayWithdraw: false,
    plan,
    refused: [],
  };

  it("shows who asks, why, that it is asked anew, and agrees to what was seen", async () => {
    const sent = await openAt("/approvals/a1", {
      "GET /api/approvals/a1": approval,
      "POST /api/approvals/a1/give": done,
    });
    expect(await screen.findByText("“left in spring”")).toBeTruthy();
    expect(screen.getByText(/The facts have changed since it was first asked/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Agree: do it" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen" }));
  });

  it("lets nobody agree to what they asked for", async () => {
    await openAt("/approvals/a1", {
      "GET /api/approvals/a1": { ...approval, mayAnswer: false, mayWithdraw: true },
    });
    expect(await screen.findByText(/You asked for it yourself/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Agree|Do not agree/ })).toBeNull();
    expect(screen.getByRole("button", { name: "Withdraw it" })).toBeTruthy();
  });
});
