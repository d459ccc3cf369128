import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt } from "./open";

const kind: Schema["ReportKind"] = {
  name: "register",
  title: "The register on a day",
  says: "Every site with its facts.",
  span: "day",
};
const report: Schema["Report"] = {
  report: kind,
  on: "2026-11-26",
  from: "2026-10-27",
  through: "2026-11-26",
  by: null,
  madeAt: "2026-11-26T08:00:00Z",
  notes: ["As of now: the day has not ended."],
  columns: [
    { head: "site", isNumber: false },
    { head: "active owners", isNumber: true },
  ],
  total: 3000,
  rows: [{ site: 7, cells: ["Tide tables", "2"] }],
};

describe("reports", () => {
  it("are listed with their content, and linked", async () => {
    await openAt("/reports", { "GET /api/reports": [kind] });
    const link = await screen.findByRole("link", { name: kind.title });
    expect(link.getAttribute("href")).toBe("/reports/register");
    expect(screen.getByText(kind.says)).toBeTruthy();
  });

  it("show rows with links and their number, and are computed again for another day", async () => {
    const sent = await openAt("/reports/register", { "GET /api/reports/register": report });
    expect((await screen.findByRole("link", { name: "Tide tables" })).getAttribute("href")).toBe("/sites/7");
    expect(screen.getByText(/3,000 rows; the first 1 are shown; an export has all/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Day"), { target: { value: "2026-11-01" } });
    await waitFor(() => expect(sent.at(-1)?.query).toEqual({ on: "2026-11-01" }));
  });

  it("show the actions of one person, then of everybody", async () => {
    const by = { id: 4, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
    const actions: Schema["Report"] = {
      ...report,
      report: { ...kind, name: "actions", title: "Actions by person", span: "days" },
      by,
      columns: [{ head: "action", isNumber: false }],
      rows: [{ site: null, cells: ["restricting access was requested"] }],
    };
    const sent = await openAt("/reports/actions?by=4", { "GET /api/reports/actions": actions });
    expect(await screen.findByText("Nora Bell")).toBeTruthy();
    expect(sent.find(({ call }) => call === "GET /api/reports/actions")?.query).toEqual({ by: "4" });
    expect(screen.getByText("restricting access was requested")).toBeTruthy();
    fireEvent.click(screen.getByRole("link", { name: "Show all people" }));
    await waitFor(() =>
      expect(sent.filter(({ call }) => call === "GET /api/reports/actions").at(-1)?.query).toBeUndefined(),
    );
  });
});
