import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { aske, bell, emptyPlan, plan, posts, remark, vane } from "./fixtures";
import { openAt, Problem, type Answers } from "./open";

const holder = (person: Schema["Person"], more: Partial<Schema["SiteOwner"]> = {}) => ({
  person,
  through: null,
  isGone: false,
  ...more,
});

const candidate = (person: Schema["Person"], more: object = {}) => ({
  person,
  unit: "Pilotage",
  unitSteps: 0,
  edits: 4,
  lastEdit: "2026-11-12T07:00:00Z",
  load: 2,
  power: null,
  whyNot: [],
  ...more,
});

const path = "POST /api/sites/12/offer";

const open = (siteOwners: object[], answers: Answers = {}, more: object = {}) =>
  openAt(
    "/sites/12/hand-over",
    {
      "GET /api/sites/12": {
        line: { id: 12, title: "Gull count", address: "slipway.example/gull", host: "Slipway", findings: [] },
        siteOwners,
        hostChanges: [],
        noHandOver: null,
        ...more,
      },
      "GET /api/sites/12/successors": {
        candidates: [candidate(aske), candidate(vane, { whyNot: ["has left"] })],
        editsUnknown: null,
      },
      [`${path}/plan`]: { plan, refused: [] },
      ...answers,
    },
    { mail: bell.mail },
  );

const choose = async (name: RegExp) => fireEvent.click(await screen.findByRole("radio", { name }));
const type = (label: RegExp, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });

describe("handing a site over", () => {
  it("offers one's own site to a chosen person once the effect was shown and the password entered", async () => {
    const sent = await open([holder(bell)], {
      [path]: { place: 9, hostChange: null, offer: "o1", approval: null },
      "GET /api/offers/o1": new Problem(404, {}),
    });
    expect(await screen.findByRole("button", { name: "Choose a person first" })).toHaveProperty("disabled", true);
    await choose(/Tomas Aske/);
    expect(await screen.findByText("Effect once Tomas Aske has accepted")).toBeTruthy();
    const offer = screen.getByRole("button", { name: "Offer it to Tomas Aske" });
    expect(offer).toHaveProperty("disabled", true);
    type(/^Your password/, "merrowby-harbour");
    fireEvent.click(screen.getByRole("radio", { name: "I stay as an editor" }));
    await waitFor(() => expect(offer).toHaveProperty("disabled", false));
    fireEvent.click(offer);
    await waitFor(() =>
      expect(posts(sent).find(({ call }) => call === path)?.body).toEqual({
        to: aske.id,
        currentOwner: bell.id,
        after: "stays",
        reason: null,
        password: "merrowby-harbour",
        fingerprint: "seen",
      }),
    );
  });

  it("shows who cannot own it with the reason, and does not let anybody choose them", async () => {
    await open([holder(bell)]);
    expect(await screen.findByText("Not possible: has left")).toBeTruthy();
    expect(screen.getByRole("radio", { name: /Idris Vane/ })).toHaveProperty("disabled", true);
  });

  it("asks a second person where the owner is gone, and shows why it is refused without a reason", async () => {
    await open([holder(vane, { isGone: true })], {
      [`${path}/plan`]: {
        plan: null,
        refused: [remark("Offering the ownership of another person's site needs a reason.")],
      },
    });
    expect(await screen.findByText(/^Its owner is not active and cannot offer it/)).toBeTruthy();
    await choose(/Tomas Aske/);
    expect(await screen.findByText("Offering the ownership of another person's site needs a reason.")).toBeTruthy();
    type(/^Your password/, "merrowby-harbour");
    expect(screen.getByRole("button", { name: "Offer it to Tomas Aske" })).toHaveProperty("disabled", true);
  });

  it("keeps what was typed when the password is wrong", async () => {
    await open([holder(bell)], {
      [path]: new Problem(422, {
        reasons: [remark("The password is wrong.")],
      }),
    });
    await choose(/Tomas Aske/);
    await screen.findByText("Effect once Tomas Aske has accepted");
    type(/^Your password/, "wrong");
    fireEvent.click(screen.getByRole("button", { name: "Offer it to Tomas Aske" }));
    expect((await screen.findByRole("alert")).textContent).toBe("The password is wrong.");
    expect(screen.getByRole("radio", { name: /Tomas Aske/ })).toHaveProperty("checked", true);
  });

  it("asks owners who are still active by mail", async () => {
    const sent = await open([holder(vane)], {
      "POST /api/sites/12/ask-owners/plan": {
        plan: { ...emptyPlan, sideEffects: ["Idris Vane gets a mail."] },
        refused: [],
      },
      "POST /api/sites/12/ask-owners": { place: 9, hostChange: null, offer: null, approval: null },
    });
    expect(await screen.findByText("Idris Vane gets a mail.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Ask the owners by mail" }));
    expect((await screen.findByRole("status")).textContent).toContain("The mail to the owners is on its way");
    expect(posts(sent).find(({ call }) => call === "POST /api/sites/12/ask-owners")?.body).toEqual({
      fingerprint: "seen",
      reason: null,
    });
  });

  it("says why a site cannot be handed over, and offers nothing", async () => {
    await open([], {}, { noHandOver: remark("Quay owns its sites through groups. Change the group there.") });
    expect(await screen.findByText(/^Quay owns its sites through groups/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Offer/ })).toBeNull();
  });
});
