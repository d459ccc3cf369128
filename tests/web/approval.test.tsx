import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aske, plan, done, posts } from "./fixtures";
import { openAt } from "./open";

describe("a request for a second person", () => {
  const approval = {
    id: "a1",
    state: "requested",
    action: "owner.offer",
    site: 7,
    title: "Storm desk",
    address: null,
    host: "Slipway",
    by: aske,
    reason: "left in spring",
    because:
      "Assigning an owner to a site without an active one, or becoming an owner yourself, needs a second person.",
    requestedAt: "2026-11-25T08:00:00Z",
    through: "2026-12-02",
    renewed: 1,
    mayAnswer: true,
    mayWithdraw: false,
    plan,
    refused: [],
  };

  it("shows who requests it, why, and that it is requested again, and agrees to the plan shown", async () => {
    const sent = await openAt("/approvals/a1", {
      "GET /api/approvals/a1": approval,
      "POST /api/approvals/a1/approve": done,
    });
    expect(await screen.findByText("“left in spring”")).toBeTruthy();
    expect(screen.getByText(/The facts have changed since the request/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Agree and carry it out" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen" }));
  });

  it("lets nobody agree to their own request", async () => {
    await openAt("/approvals/a1", {
      "GET /api/approvals/a1": { ...approval, mayAnswer: false, mayWithdraw: true },
    });
    expect(await screen.findByText(/You made this request/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Agree|Do not agree/ })).toBeNull();
    expect(screen.getByRole("button", { name: "Withdraw the request" })).toBeTruthy();
  });
});
