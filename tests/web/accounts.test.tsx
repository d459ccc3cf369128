import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { remark } from "./fixtures";
import { openAt, Problem } from "./open";

const account = (more: Partial<Schema["Account"]>): Schema["Account"] => ({
  person: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  role: "administrator",
  part: null,
  partName: null,
  lastSignIn: "2026-11-29T06:50:00Z",
  sessions: 1,
  hasLeft: false,
  hasPassword: true,
  isSelf: true,
  ...more,
});
const nair = account({
  person: { id: 2, name: "Hari Nair", mail: "h.nair@merrowby.example", isOutside: false },
  role: "steward",
  part: "MAR",
  partName: "Marine Operations",
  sessions: 2,
  isSelf: false,
});
const all = {
  accounts: [account({}), nair],
  units: [
    { code: "MAR", name: "Marine Operations" },
    { code: "PIL", name: "Pilotage" },
  ],
};

describe("accounts", () => {
  it("shows who has an account in which role, and nobody can remove their own", async () => {
    await openAt("/accounts", { "GET /api/accounts": all });
    const list = await screen.findByRole("list", { name: "Accounts" });
    const [own, other] = within(list).getAllByRole("listitem");
    expect(own?.textContent).toContain("This is you.");
    expect(within(own!).queryByRole("button", { name: /Remove/ })).toBeNull();
    expect(other?.textContent).toContain("steward of Marine Operations");
    expect(within(other!).getByRole("button", { name: "Remove the account of Hari Nair …" })).toBeDefined();
  });

  it("shows the effect of a change first, and carries out exactly that", async () => {
    const sent = await openAt("/accounts", {
      "GET /api/accounts": all,
      "POST /api/accounts/plan": { fingerprint: "abc", follows: ["Their 2 sessions end at once."], refused: [] },
      "POST /api/accounts/change": { fingerprint: "abc", follows: [], refused: [] },
    });
    fireEvent.click(await screen.findByRole("button", { name: "End the sessions of Hari Nair …" }));
    expect(await screen.findByText("Their 2 sessions end at once.")).toBeDefined();
    fireEvent.click(screen.getByRole("button", { name: "End all sessions" }));
    await expect
      .poll(() => sent.find((one) => one.call === "POST /api/accounts/change")?.body)
      .toEqual({
        request: { mail: "h.nair@merrowby.example", change: "end-sessions", role: null, part: null },
        fingerprint: "abc",
      });
  });

  it("shows why a change is refused, and that facts have changed since", async () => {
    await openAt("/accounts", {
      "GET /api/accounts": all,
      "POST /api/accounts/plan": { fingerprint: "abc", follows: ["It goes."], refused: [] },
      "POST /api/accounts/change": new Problem(409, { fingerprint: null, follows: [], refused: [remark("Has left.")] }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Remove the account of Hari Nair …" }));
    expect(await screen.findByText("It goes.")).toBeDefined();
    fireEvent.click(screen.getByRole("button", { name: "Remove the account" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Nothing was done");
  });
});
