import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane, plan, done } from "./fixtures";
import { openAt } from "./open";

describe("putting a site away", () => {
  const folio = {
    line: {
      id: 7,
      title: "Licensing news",
      address: "slipway.example/news",
      host: "Slipway",
      unit: null,
      lastEdit: null,
      findings: [],
    },
    kind: "pages",
    unknowns: [],
    lastVisit: null,
    keyHolders: [{ person: vane, isFit: true, isGone: false, note: "", through: null }],
    orders: [],
    holds: [],
    existence: "here",
  };
  const loss = {
    pages: 2,
    bytes: 2_100_000,
    domains: [],
    group: null,
    opened: [],
    visits: 18,
    lookAlikes: [],
    keptThrough: "2099-01-09",
    keptBecause: "the house keeps put-away sites 60 days",
    hostKeepsThrough: null,
    isOurs: false,
    cost: null,
    mailAlias: null,
    shared: [],
    records: null,
  };
  const at = (preview: unknown, answers = {}, role = "owner") =>
    openAt(
      "/sites/7/put-away",
      {
        "GET /api/sites/7": folio,
        "GET /api/sites/7/stay": null,
        "POST /api/sites/7/put-away/plan": preview,
        ...answers,
      },
      { role },
    );

  it("wants the name typed as it stands, and says until when it can be stopped", async () => {
    const sent = await at(
      { plan: { ...plan, loss, sure: "type-the-name", stopMinutes: 60 }, refused: [] },
      { "POST /api/sites/7/put-away": { ...done, offer: null } },
    );
    const put = await screen.findByRole("button", { name: "Put it away in an hour" });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "licensing news" } });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "Licensing news" } });
    fireEvent.click(put);
    await waitFor(() =>
      expect(sent.find((one) => one.call === "POST /api/sites/7/put-away")?.body).toEqual({
        typed: "Licensing news",
        fingerprint: "seen",
        reason: null,
      }),
    );
    expect(screen.queryByRole("button", { name: "Hold …" })).toBeNull();
  });

  it("asks nothing of who puts a small site away that was never live", async () => {
    await at({ plan: { ...plan, loss }, refused: [] }, {}, "administrator");
    expect(await screen.findByRole("button", { name: "Put it away" })).toHaveProperty("disabled", false);
    expect(screen.queryByLabelText("The site's name")).toBeNull();
    expect(
      screen.getByText(/It can be brought back through 9 Jan 2099: the house keeps put-away sites 60 days\./),
    ).toBeTruthy();
    expect(screen.getByRole("button", { name: "Hold …" })).toBeTruthy();
  });

  it("shows what blocks it, and no button", async () => {
    await at({ plan: null, refused: ["A hold forbids it.", "Renata Quist is editing it now."] });
    expect(await screen.findByText("Renata Quist is editing it now.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Put it away|Ask a second/ })).toBeNull();
  });

  it("waits for a second person where it reaches everybody", async () => {
    await at({
      plan: { ...plan, loss, sure: "second-person", needsSecond: "All of the staff can read it." },
      refused: [],
    });
    expect(await screen.findByText("All of the staff can read it.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Ask a second person" })).toBeTruthy();
  });
});
