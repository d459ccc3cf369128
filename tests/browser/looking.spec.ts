import { expect, front, isAccessible, signIn, test } from "./harbour";
import type { Page } from "@playwright/test";

/** What the visitors' front answers to a member of staff, without following where it leads. */
async function atFront(page: Page, slug: string) {
  const answer = await page.request.get(`${front}/${slug}`, {
    headers: { Authorization: `Basic ${Buffer.from("n.bell@merrowby.example:harbour").toString("base64")}` },
    maxRedirects: 0,
  });
  return { status: answer.status(), to: answer.headers()["location"], text: await answer.text() };
}

/** Opens the page of a site that a filter finds first. */
async function sitePage(page: Page, filter: string) {
  const answer = await page.request.get(`/api/register?limit=1&filter=${encodeURIComponent(filter)}`);
  const { lines } = (await answer.json()) as { lines: { id: number }[] };
  await page.goto(`/sites/${lines[0]!.id}`);
}

async function open(page: Page, title: string, link: string) {
  await sitePage(page, `title eq "${title}"`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(title);
  await page.getByRole("link", { name: link }).click();
}

test("an address changes with three linking pages, the old one forwards at the visitors' front, and it is undone", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/");
  await open(page, "Berth planning", "Change the address …");

  // The pages are read in the background.
  await expect(async () => {
    await page.reload();
    await expect(page.getByText("Pages of 3 other sites link to it:")).toBeVisible({ timeout: 2_000 });
  }).toPass();
  await expect(page.getByRole("link", { name: "VTS shift handbook" })).toBeVisible();
  await isAccessible(page);

  const address = page.getByLabel("New address");
  await address.fill("agents");
  await expect(page.getByText("slipway.example/agents is taken: Ship agents' corner has it.").first()).toBeVisible();
  await expect(page.getByLabel(/Exchange the addresses/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Change the address" })).toBeDisabled();
  await isAccessible(page);
  await address.fill("Berths");
  await expect(page.getByText(/This cannot be an address/).first()).toBeVisible();
  await address.fill("berths");
  await expect(page.getByText("slipway.example/berths is free.")).toBeVisible();
  await expect(page.getByText(/The old address forwards to the new one until the end of/)).toBeVisible();
  await page.getByLabel("Comment (optional)").fill("Shorter to say");
  await page.getByRole("button", { name: "Change the address" }).click();

  await expect(page.getByRole("list", { name: "Progress" }).first()).toContainText(/verified \d/);
  await expect(page.getByText("slipway.example/berths").first()).toBeVisible();
  expect(await atFront(page, "berth-planning")).toMatchObject({ status: 302, to: "/berths" });
  expect((await atFront(page, "berths")).text).toContain("Berth planning");

  await page.getByRole("button", { name: "Undo …" }).click();
  await page.getByRole("button", { name: "Undo the change" }).click();
  await expect.poll(async () => (await atFront(page, "berth-planning")).status).toBe(200);
  expect((await atFront(page, "berths")).status).toBe(404);
});

test("a site is renamed, told what visitors go on reading, and the journal keeps before and after", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/");
  await open(page, "VTS shift handbook", "Change name, description or logo …");
  await page.getByLabel("Name", { exact: true }).fill("Shift handbook");
  const plan = page.getByRole("region", { name: "What becomes different" });
  await expect(plan).toContainText("Name: VTS shift handbook becomes Shift handbook");
  await expect(plan).toContainText("The address stays slipway.example/vts-handbook");
  await isAccessible(page);
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Shift handbook");
  await expect(page.getByRole("list", { name: "Progress" }).first()).toContainText(/verified \d/);
  const entry = page.getByRole("listitem").filter({ hasText: "A change of name, description or logo was requested" });
  await entry
    .first()
    .getByRole("button", { name: /its details/ })
    .click();
  await expect(entry.first()).toContainText("VTS shift handbook before, Shift handbook now");
  await page.getByRole("complementary", { name: "Details" }).getByRole("button", { name: "Undo …" }).click();
  await page.getByRole("button", { name: "Undo the change" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("VTS shift handbook");
});

test("a logo is borrowed, and before its source is moved to the attic the warning names who shows it", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/");
  await open(page, "Berth planning", "Change name, description or logo …");
  await page.getByLabel("The logo of another site at Slipway").check();
  await page.getByLabel("Name of the other site").fill("agents");
  await page.getByRole("radio", { name: /Ship agents' corner/ }).check();
  await expect(page.getByText(/The logo stays with Ship agents' corner: it vanishes/)).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Change it" }).click();
  await expect(page.getByRole("list", { name: "Progress" }).first()).toContainText(/verified \d/);
  expect((await atFront(page, "berth-planning")).text).toContain('src="/agents/logo"');

  await sitePage(page, `title eq "Ship agents' corner"`);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ship agents' corner");
  await page.goto(`${new URL(page.url()).pathname}/move-to-attic`);
  await expect(page.getByText(/Berth planning.* show its logo\./)).toBeVisible();
  await isAccessible(page);
});

test("a picture from inside is not fetched, and one that is no picture is refused", async ({ page }) => {
  await signIn(page, "n.bell", "/");
  await open(page, "Berth planning", "Change name, description or logo …");
  await page.getByLabel(/A picture from the web/).check();
  await page.getByLabel("Address of the picture").fill(`${front}/sealwatch/logo`);
  await page.getByRole("button", { name: "Fetch it" }).click();
  await expect(page.getByRole("alert")).toContainText("is no machine of the public network");
  await page.getByLabel(/A picture from this computer/).check();
  await page.getByLabel("Picture", { exact: true }).setInputFiles({
    name: "logo.png",
    mimeType: "image/png",
    buffer: Buffer.from("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"),
  });
  await expect(page.getByRole("alert")).toContainText("can contain scripts");
});

test("where a host never changes an address, that is said before anything is typed", async ({ page }) => {
  await signIn(page, "n.bell", "/");
  await sitePage(page, 'host eq "Quay" and existence eq "in-use"');
  await page.getByRole("link", { name: "Change the address …" }).click();
  await expect(page.getByText(/Quay does not let the address of a site be changed/)).toBeVisible();
  await expect(page.getByLabel("New address")).toHaveCount(0);
  await isAccessible(page);
});
