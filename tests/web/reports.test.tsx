import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { openAt } from "./open";

const kind: Wire["ReportKindWire"] = {
  name: "register",
  title: "The register as it stood on a day",
  says: "Every site with its facts.",
  span: "day",
};
const report: Wire["ReportWire"] = {
  report: kind,
  on: "2026-11-26",
  from: "2026-10-27",
  through: "2026-11-26",
  by: null,
  madeAt: "2026-11-26T08:00:00Z",
  notes: ["As it stands now: the day is not over."],
  columns: [
    { head: "site", isNumber: false },
    { head: "fit owners", isNumber: true },
  ],
  total: 3000,
  rows: [{ site: 7, cells: ["Tide tables", "2"] }],
};

describe("reports", () => {
  it("are listed with what each shows, and lead there", async () => {
    await openAt("/reports", { "GET /api/reports": [kind] });
    const link = await screen.findByRole("link", { name: kind.title }, { timeout: 5000 });
    expect(link.getAttribute("href")).toBe("/reports/register");
    expect(screen.getByText(kind.says)).toBeTruthy();
  });

  it("show their rows with links, say how many there are, and are made anew for another day", async () => {
    const sent = await openAt("/reports/register", { "GET /api/reports/register": report });
    expect((await screen.findByRole("link", { name: "Tide tables" })).getAttribute("href")).toBe("/sites/7");
    expect(screen.getByText(/3,000 rows; the first 1 are shown, a file has them all/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Day"), { target: { value: "2026-11-01" } });
    await waitFor(() => expect(sent.at(-1)?.query).toEqual({ on: "2026-11-01" }));
  });

  it("show the deeds of one person, and of everybody again", async () => {
    const by = { id: 4, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
    const deeds: Wire["ReportWire"] = {
      ...report,
      report: { ...kind, name: "deeds", title: "Deeds by person", span: "days" },
      by,
      columns: [{ head: "deed", isNumber: false }],
      rows: [{ site: null, cells: ["site.narrow"] }],
    };
    const sent = await openAt("/reports/deeds?by=4", { "GET /api/reports/deeds": deeds });
    expect(await screen.findByText("Nora Bell")).toBeTruthy();
    expect(sent.find(({ call }) => call === "GET /api/reports/deeds")?.query).toEqual({ by: "4" });
    expect(screen.queryByText("site.narrow")).toBeNull();
    fireEvent.click(screen.getByRole("link", { name: "Show everybody's" }));
    await waitFor(() =>
      expect(sent.filter(({ call }) => call === "GET /api/reports/deeds").at(-1)?.query).toBeUndefined(),
    );
  });
});
