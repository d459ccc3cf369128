import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane, plan, done, remark } from "./fixtures";
import { openAt } from "./open";

describe("moving a site to the attic", () => {
  const sitePage = {
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
    siteOwners: [{ person: vane, isActive: true, isGone: false, note: "", through: null }],
    hostChanges: [],
    holds: [],
    existence: "in-use",
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
    keptBecause: "policy keeps sites in the attic 60 days",
    hostKeepsThrough: null,
    isOurs: false,
    cost: null,
    mailAlias: null,
    shared: [],
    records: null,
  };
  const at = (preview: unknown, answers = {}, role = "owner") =>
    openAt(
      "/sites/7/move-to-attic",
      {
        "GET /api/sites/7": sitePage,
        "GET /api/sites/7/attic-entry": null,
        "POST /api/sites/7/move-to-attic/plan": preview,
        ...answers,
      },
      { role },
    );

  it("requires the exact name, and says until when it can be stopped", async () => {
    const sent = await at(
      { plan: { ...plan, loss, confirmation: "type-the-name", stopMinutes: 60 }, refused: [] },
      { "POST /api/sites/7/move-to-attic": { ...done, offer: null } },
    );
    const put = await screen.findByRole("button", { name: "Move it to the attic in an hour" });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "licensing news" } });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "Licensing news" } });
    fireEvent.click(put);
    await waitFor(() =>
      expect(sent.find((one) => one.call === "POST /api/sites/7/move-to-attic")?.body).toEqual({
        typed: "Licensing news",
        fingerprint: "seen",
        reason: null,
      }),
    );
    expect(screen.queryByRole("button", { name: "Hold …" })).toBeNull();
  });

  it("requires no confirmation for a small site that was never published", async () => {
    await at({ plan: { ...plan, loss }, refused: [] }, {}, "administrator");
    expect(await screen.findByRole("button", { name: "Move it to the attic" })).toHaveProperty("disabled", false);
    expect(screen.queryByLabelText("The site's name")).toBeNull();
    expect(
      screen.getByText(/It can be restored until the end of 9 Jan 2099: policy keeps sites in the attic 60 days\./),
    ).toBeTruthy();
    expect(screen.getByRole("button", { name: "Hold …" })).toBeTruthy();
  });

  it("shows what blocks it, and no button", async () => {
    await at({ plan: null, refused: [remark("A hold blocks it."), remark("Renata Quist is editing it now.")] });
    expect(await screen.findByText("Renata Quist is editing it now.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Move it to the attic|Ask a second/ })).toBeNull();
  });

  it("requests a second person if everybody has access", async () => {
    await at({
      plan: { ...plan, loss, confirmation: "second-person", needsSecond: "All of the staff can read it." },
      refused: [],
    });
    expect(await screen.findByText("All of the staff can read it.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Ask a second person" })).toBeTruthy();
  });
});
