import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { bell, vane, plan, done, posts } from "./fixtures";
import { openAt, Problem } from "./open";

describe("an offer", () => {
  const offer = {
    id: "o1",
    state: "offered",
    site: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    host: "Slipway",
    to: bell,
    currentOwner: vane,
    by: vane,
    second: null,
    after: "leaves",
    reason: "I leave",
    offeredAt: "2026-11-25T08:00:00Z",
    through: "2026-12-09",
    mayAnswer: true,
    mayWithdraw: false,
    words: null,
    steps: [
      { step: "offered", at: "2026-11-25T08:00:00Z" },
      { step: "accepted", at: null },
    ],
    receipt: [],
    unaffected: [],
    plan,
    refused: [],
  };

  it("shows who offers, what and until when, and accepts the plan shown, through the mail's link", async () => {
    const sent = await openAt("/offers/o1?link=tok", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/accept": done,
    });
    expect(await screen.findByText(/Idris Vane offered it to Nora Bell on .* and leaves the site\./)).toBeTruthy();
    expect(screen.getByText(/It lapses at the end of 9 Dec/)).toBeTruthy();
    expect(screen.getByText("not yet accepted")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Accept ownership" }));
    await waitFor(() => expect(posts(sent)).toHaveLength(1));
    expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen", link: "tok", reason: null });
  });

  it("says that something has changed, and does nothing", async () => {
    await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/accept": new Problem(409, { ...plan, fingerprint: "other" }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Accept ownership" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
  });

  it("declines with a reason, and has no button for an action that the state does not allow", async () => {
    const sent = await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/decline": done,
    });
    fireEvent.click(await screen.findByRole("button", { name: "Decline …" }));
    fireEvent.change(screen.getByLabelText("Reason (optional)"), { target: { value: "too much" } });
    fireEvent.click(screen.getByRole("button", { name: "Decline the offer" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ reason: "too much", link: null }));
    cleanup();
    await openAt("/offers/o1", {
      "GET /api/offers/o1": { ...offer, state: "lapsed", mayAnswer: false, plan: null },
    });
    expect(await screen.findByText(/Nobody answered by the end of 9 Dec, so it lapsed/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Accept|Decline|Take the offer/ })).toBeNull();
  });
});
