import { screen, within } from "@testing-library/react";
import { expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { answering } from "./open";

const sitePage = {
  line: { id: 7, lastEdit: "2024-06-15T08:00:00Z" },
  created: "2022-07-21T08:00:00Z",
  lastVisit: null,
} as Schema["SitePage"];

async function open(days: Schema["Deadline"][]) {
  answering({ "GET /api/sites/7/dates": days });
  const { Dates } = await import("../../web/src/site/Dates");
  const { showWithLinks } = await import("./open");
  showWithLinks(<Dates sitePage={sitePage} />);
  await screen.findByText("Today");
}

it("shows past dates, today and future dates in order", async () => {
  await open([
    { kind: "leaver", day: "2099-12-01", title: "Idris Vane's last day", words: "Is an owner.", site: null, person: 3 },
    { kind: "plan", day: "2100-01-01", title: "The plan ends: Tides", words: "Basic.", site: 7, person: null },
  ]);
  const leaver = await screen.findByRole("link", { name: "Idris Vane's last day" });
  expect(leaver.getAttribute("href")).toBe("/people/3");
  const items = within(screen.getByRole("region", { name: "Dates" })).getAllByRole("listitem");
  expect(items.map((item) => item.textContent)).toEqual([
    "21 Jul 2022Created",
    "15 Jun 2024Last edited",
    "Today",
    "1 Dec 2099Idris Vane's last dayIs an owner.",
    "1 Jan 2100The plan ends: TidesBasic.",
  ]);
});

it("explains an empty list of deadlines", async () => {
  await open([]);
  expect(await screen.findByText("Nothing of it ends within a year.")).toBeTruthy();
});
