import AxeBuilder from "@axe-core/playwright";
import { expect, test as base, type Page } from "@playwright/test";

const slipway = process.env.ATTIC_SLIPWAY_URL ?? "";
export const front = process.env.ATTIC_FRONT_URL ?? "";

/** A page that fails the test on a violation of the content policy or an error of the application. */
export const test = base.extend<{ page: Page }>({
  page: async ({ page }, use) => {
    const faults: string[] = [];
    page.on("pageerror", (error) => faults.push(error.message));
    page.on("console", (message) => {
      if (/content security policy|refused to/i.test(message.text())) faults.push(message.text());
    });
    await use(page);
    expect(faults).toEqual([]);
  },
});

export { expect };

export async function signIn(page: Page, who: string, to = "/") {
  await page.goto(to);
  await page.getByLabel("Mail address").fill(`${who}@merrowby.example`);
  await page.getByLabel("Password").fill("merrowby-harbour");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("button", { name: /^Account:/ })).toBeVisible();
}

/** axe finds nothing on what is shown now, and nothing hidden makes the window taller than the page. */
export async function isAccessible(page: Page) {
  expect(await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight)).toBeLessThanOrEqual(0);
  const found = await new AxeBuilder({ page })
    .options({
      runOnly: { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] },
      // To describe what is in order as well takes as long again; legacy mode leaves out frames of other origins, and there are none.
      resultTypes: ["violations"],
    })
    .setLegacyMode(true)
    .analyze();
  expect(
    found.violations.map(
      (violation) => `${violation.id}: ${violation.nodes.map((node) => node.target.join(" ")).join(", ")}`,
    ),
  ).toEqual([]);
}

/** The status a visitor gets from the site itself, with an account or without. */
export async function visit(slug: string, mail?: string): Promise<number> {
  const headers = mail
    ? {
        authorization: `Basic ${Buffer.from(`${mail}:harbour`).toString("base64")}`,
      }
    : {};
  return (await fetch(`${front}/${slug}`, { headers })).status;
}

/** Somebody changes a site's sharing at Slipway itself. */
export async function atSlipway(site: string, changes: { entry: string; role: string | null; proof?: string }[]) {
  const answer = await fetch(`${slipway}/hands/sites/${site}/sharing`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(changes),
  });
  expect(answer.status).toBe(200);
}

export async function slipwayFaults(query: string) {
  await fetch(`${slipway}/hands/faults?${query}`, { method: "POST" });
}

/** The register shows every site; other tests change how many there are. */
export const allSites = /^(\d+) of \1 sites/;

/** The current line of the register. */
export const hereIn = (page: Page) => page.locator('[role="row"][aria-current="true"]');

/** Starts a sync of Slipway on the page, as an administrator does. */
export async function readSlipway(page: Page) {
  await page.getByRole("button", { name: /\d+ sites/ }).click();
  await page.getByRole("listitem").filter({ hasText: "Slipway" }).getByRole("button", { name: "Sync now" }).click();
  await page.keyboard.press("Escape");
}
