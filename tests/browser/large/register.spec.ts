import type { Page } from "@playwright/test";
import { expect, hereIn, isAccessible, test } from "../harbour";

// A register of 40,000 sites imported from a bundle, with an administrator and a steward who have yet to choose
// their passwords. Everything is computed while the first page waits.
test.setTimeout(900_000);

const sites = Number(process.env.ATTIC_SITES);
const password = "a harbour of many sites";

async function choosePassword(page: Page, link: string | undefined, mail: string) {
  await page.goto(link ?? "");
  await page.getByLabel("Password", { exact: true }).fill(password);
  await page.getByLabel("Repeat the password").fill(password);
  await page.getByRole("button", { name: /password/i }).click();
  await expect(page.getByRole("heading", { name: "Your password is set" })).toBeVisible();
  await page.goto("/sign-in");
  await page.getByLabel("Mail address").fill(mail);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("button", { name: /^Account:/ })).toBeVisible({ timeout: 240_000 });
}

const total = async (page: Page) =>
  Number(
    /^([\d,]+) of/.exec((await page.getByText(/^[\d,]+ of [\d,]+ sites/).textContent()) ?? "")?.[1]?.replace(/,/g, ""),
  );

test("a register of 40,000 sites is filtered, sorted, scrolled to its end, selected, shared and navigated back", async ({
  page,
  browser,
}) => {
  await choosePassword(page, process.env.ATTIC_FIRST_LINK, "first@merrowby.example");
  await page.goto("/");
  await expect(page.getByText(/^[\d,]+ of [\d,]+ sites/)).toBeVisible({ timeout: 240_000 });
  const whole = await total(page);
  expect(whole).toBeGreaterThan(sites * 0.8);
  const grid = page.getByRole("grid", { name: "Sites" });
  await isAccessible(page);

  // Filter, with the filter line.
  await page.getByRole("button", { name: /^Unit/ }).click();
  await page.getByRole("button", { name: /^in Unit 20 / }).click();
  await expect.poll(() => total(page)).toBeLessThan(whole);
  const inUnit = await total(page);
  expect(inUnit).toBeGreaterThan(0);

  // Sort, and go to the end: the last line is there, and the lines between were never fetched.
  await page.getByRole("button", { name: /^Order/ }).click();
  await page.getByRole("button", { name: "by name", exact: true }).click();
  await expect(page).toHaveURL(/sort=title/);
  await grid.focus();
  await page.keyboard.press("End");
  await expect(hereIn(page)).toHaveAttribute("aria-rowindex", (inUnit + 1).toString());
  await expect(hereIn(page).getByRole("link")).toBeVisible();

  // A range over lines that were never on the screen.
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  await page.keyboard.press("Shift+End");
  const bar = page.getByRole("region", { name: "Selected sites" });
  await expect(bar.getByRole("status")).toContainText(`${inUnit.toLocaleString("en-GB")} sites selected`);
  await bar.getByRole("button", { name: "Clear the selection" }).click();
  await expect(bar).toHaveCount(0);

  // A selection stops at what can be done at once, and says so.
  await page.goto("/?sort=title");
  await expect.poll(() => total(page)).toBe(whole);
  await grid.focus();
  await page.keyboard.press("Control+a");
  await expect(bar.getByRole("status")).toContainText("5,000 sites selected");
  await expect(bar.getByRole("status")).toContainText("process these first");
  await page.keyboard.press("End");
  await expect(hereIn(page)).toHaveAttribute("aria-rowindex", (whole + 1).toString());
  await expect(hereIn(page).getByRole("link")).toBeVisible();

  // The link shows somebody else the same view of the sites they may see.
  const shared = await (await browser.newContext()).newPage();
  await choosePassword(shared, process.env.ATTIC_SECOND_LINK, "second@merrowby.example");
  await shared.goto("/?rule=R-07&sort=-edited");
  await expect(shared.getByText(/^[\d,]+ of [\d,]+ sites/)).toBeVisible();
  await page.goto("/?rule=R-07&sort=-edited");
  await expect.poll(() => total(page)).toBeLessThan(whole);
  expect(await total(shared)).toBeLessThan(await total(page));
  await expect(shared.getByRole("button", { name: /^Order/ })).toContainText("the last edit, latest first");
  await shared.context().close();

  // Back and forward.
  const wide = await total(page);
  await page.getByRole("button", { name: /^Status/ }).click();
  await page.getByRole("button", { name: /^are offline/ }).click();
  await expect.poll(() => total(page)).toBeLessThan(wide);
  const offline = await total(page);
  await page.goBack();
  await expect.poll(() => total(page)).toBe(wide);
  await page.goForward();
  await expect.poll(() => total(page)).toBe(offline);
});
