import { screen, within } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { answering } from "./open";

// Only where a link leads matters here.
vi.mock("@tanstack/react-router", () => ({
  Link: ({ children, params }: { children: React.ReactNode; params: { person: string } }) => (
    <a href={`/people/${params.person}`}>{children}</a>
  ),
}));

const folio = {
  line: { id: 7, lastEdit: "2024-06-15T08:00:00Z" },
  created: "2022-07-21T08:00:00Z",
  lastVisit: null,
} as Wire["FolioWire"];

async function open(days: Wire["DeadlineWire"][]) {
  answering({ "GET /api/sites/7/days": days });
  const { Days } = await import("../../web/src/folio/Days");
  const { show } = await import("./open");
  show(<Days folio={folio} />);
  await screen.findByText("Today");
}

it("shows what has been, today, and what is to come, in order", async () => {
  await open([
    { kind: "leaver", day: "2099-12-01", title: "Idris Vane's last day", words: "Holds a key.", site: null, person: 3 },
    { kind: "plan", day: "2100-01-01", title: "The plan ends: Tides", words: "Basic.", site: 7, person: null },
  ]);
  const leaver = await screen.findByRole("link", { name: "Idris Vane's last day" });
  expect(leaver.getAttribute("href")).toBe("/people/3");
  const items = within(screen.getByRole("region", { name: "Its days" })).getAllByRole("listitem");
  expect(items.map((item) => item.textContent)).toEqual([
    "21 Jul 2022Made",
    "15 Jun 2024Last edited",
    "Today",
    "1 Dec 2099Idris Vane's last dayHolds a key.",
    "1 Jan 2100The plan ends: TidesBasic.",
  ]);
});

it("says so where nothing is to come", async () => {
  await open([]);
  expect(await screen.findByText("Nothing of it ends in the year to come.")).toBeTruthy();
});
