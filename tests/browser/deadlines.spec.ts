import ICAL from "ical.js";
import { expect, isAccessible, signIn, test } from "./harbour";

test("the deadlines of the sites one may see are on a page and in a calendar, until the link is revoked", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/deadlines");
  const feed = page.getByRole("region", { name: "In your own calendar" });
  await isAccessible(page);
  await feed.getByRole("button", { name: /^Make/ }).click();
  const link = await feed.getByLabel("The link, shown only once").inputValue();
  await isAccessible(page);

  // A calendar program does not sign in. An independent library reads the file.
  await page.context().clearCookies();
  const answer = await page.request.get(link);
  expect(answer.headers()["content-type"]).toContain("text/calendar");
  const calendar = new ICAL.Component(ICAL.parse(await answer.text()) as string);
  const events = calendar.getAllSubcomponents("vevent").map((one) => new ICAL.Event(one));
  const titles = events.map((one) => one.summary);
  expect(titles).toContain("The plan ends: Seal pups 2026");
  expect(titles.some((title) => title.startsWith("Last day to restore "))).toBe(true);
  expect(events.every((one) => one.startDate.isDate && one.uid.includes("@"))).toBe(true);
  expect(new Set(events.map((one) => one.uid)).size).toBe(events.length);

  await signIn(page, "n.bell", "/deadlines");
  await expect(feed).toContainText("a calendar last read it");
  await feed.getByRole("button", { name: "Revoke it" }).click();
  await expect(feed.getByRole("button", { name: "Make a link" })).toBeVisible();
  expect((await page.request.get(link)).status()).toBe(404);
});
