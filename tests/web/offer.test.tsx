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
    giver: vane,
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
      { step: "countersigned", at: null },
    ],
    receipt: [],
    remains: [],
    plan,
    refused: [],
  };

  it("says who, what and until when, and accepts what was seen, through the mail's link", async () => {
    const sent = await openAt("/offers/o1?link=tok", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/countersign": done,
    });
    expect(await screen.findByText(/Idris Vane offered it to Nora Bell on .* and leaves the site\./)).toBeTruthy();
    expect(screen.getByText(/It can be answered through 9 Dec/)).toBeTruthy();
    expect(screen.getByText("not yet countersigned")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Accept the key" }));
    await waitFor(() => expect(posts(sent)).toHaveLength(1));
    expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen", link: "tok", reason: null });
  });

  it("says that something has changed, and does nothing", async () => {
    await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/countersign": new Problem(409, { ...plan, fingerprint: "other" }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Accept the key" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
  });

  it("declines with a reason, and has no button where the table has no move", async () => {
    const sent = await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/decline": done,
    });
    fireEvent.click(await screen.findByRole("button", { name: "Decline …" }));
    fireEvent.change(screen.getByLabelText("Reason (if you like)"), { target: { value: "too much" } });
    fireEvent.click(screen.getByRole("button", { name: "Decline it" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ reason: "too much", link: null }));
    cleanup();
    await openAt("/offers/o1", {
      "GET /api/offers/o1": { ...offer, state: "lapsed", mayAnswer: false, plan: null },
    });
    expect(await screen.findByText(/Nobody answered through 9 Dec, so it lapsed/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Accept|Decline|Take the offer/ })).toBeNull();
  });
});
