import { expect, isAccessible, signIn, slipwayFaults, test, visit } from "./harbour";

test("the worst site is found, explained, restricted, verified and undone, and the journal is unbroken", async ({
  page,
}) => {
  await signIn(page, "n.bell");
  await isAccessible(page);

  // The site with the worst finding is first, and the details say why.
  const worst = page.getByRole("row").nth(1);
  await expect(worst).toContainText("Tug crew rota (copy)");
  const margin = page.getByRole("complementary", { name: "Details" });
  await expect(margin).toContainText("Anonymous visitors can edit");
  await expect(margin).toContainText("R-02");

  // The filters find a site that anonymous visitors can view, and the address keeps them.
  await page.getByRole("button", { name: /^Unit:/ }).click();
  await page.getByRole("button", { name: /^in Pilotage/ }).click();
  await page.getByRole("button", { name: /^Access:/ }).click();
  await page.getByRole("button", { name: /^anonymous visitors can view/ }).click();
  await expect(page).toHaveURL(/unit=PIL/);
  await expect(page).toHaveURL(/reach=read-anonymous/);
  await page.getByRole("row", { name: /Pilot boarding notes/ }).click();
  await expect(margin).toContainText("Anonymous visitors can view the published site; policy allows nobody outside");

  // The table names every limit and those that bind.
  const table = margin.getByRole("table");
  for (const layer of [
    "Set on the site",
    "Slipway host",
    "Effective",
    "Organisation policy",
    "Pilotage policy",
    "Guarded policy",
  ]) {
    await expect(table.getByRole("row", { name: new RegExp(layer) })).toBeVisible();
  }
  await expect(table.getByRole("row", { name: /Guarded policy/ })).toContainText("no one, limits it");
  await expect(table.getByRole("row", { name: /Pilotage policy/ })).toContainText("limits it");

  // The site itself lets an anonymous visitor in.
  expect(await visit("pilot-boarding")).toBe(200);

  // First the effect, then the action and its progress.
  await expect(margin).toContainText(/Exceeds policy \(R-07\).* ends?; no finding is new\./);
  await expect(margin).toContainText("Anonymous visitors can no longer view");
  await margin.getByLabel("Reason, for the journal").fill("Not for strangers");
  await margin.getByRole("button", { name: "Restrict", exact: true }).click();
  const progress = margin.getByRole("list", { name: "Progress" }).first();
  await expect(progress).toContainText(/queued .*sent .*confirmed .*verified \d/);
  await expect(margin).not.toContainText("Anonymous visitors have access");
  await expect(margin).toContainText("no longer matches the filters");
  await isAccessible(page);

  // The site itself refuses anonymous visitors and lets staff in.
  expect(await visit("pilot-boarding")).toBe(404);
  expect(await visit("pilot-boarding", "i.vane@merrowby.example")).toBe(200);

  // Undo is an action of its own and shows its own effect.
  await margin.getByRole("button", { name: "Undo …" }).click();
  await expect(margin).toContainText(/Exceeds policy \(R-07\).* (is|are) new\./);
  await margin.getByRole("button", { name: "Undo the change" }).click();
  await expect(margin).toContainText("Anonymous visitors can view the published site; policy allows nobody outside");
  await expect(margin.getByRole("list", { name: "Progress" }).first()).toContainText(/verified \d/);
  expect(await visit("pilot-boarding")).toBe(200);

  // The journal has every step, and its chain is unbroken.
  await page.getByRole("link", { name: "Journal" }).click();
  await expect(page.getByText("“Not for strangers”")).toBeVisible();
  await page.getByRole("button", { name: "Check the chain" }).click();
  await expect(page.getByText(/^Unbroken: \d+ entries/)).toBeVisible();
  await isAccessible(page);
});

test("a site page shows the access path, the owners and the site's own journal", async ({ page }) => {
  await signIn(page, "g.sollis", "/?unit=DRE&sort=title");
  await page.getByRole("link", { name: "Dredge log, north channel" }).click();
  await expect(page.getByRole("heading", { name: "Dredge log, north channel" })).toBeVisible();
  await expect(page.getByRole("img", { name: /^Published site/ })).toBeVisible();
  await expect(page.getByText("This site has no owner.")).toBeVisible();
  await isAccessible(page);

  // An auditor sees everything and may change nothing: the page has no action.
  await expect(page.getByRole("button", { name: "Restrict", exact: true })).toHaveCount(0);
});

test("a change that the host does not answer is tried again automatically and shown as under way", async ({ page }) => {
  await slipwayFaults("seed=3&loseBefore=100");
  try {
    await signIn(page, "n.bell", "/?filter=name%20eq%20%22Dredge%20log%2C%20north%20channel%22");
    const margin = page.getByRole("complementary", { name: "Details" });
    await margin.getByRole("button", { name: "Restrict", exact: true }).click();
    await expect(margin).toContainText("not yet confirmed");
    await expect(margin).toContainText(/Tried \d+ times; the next attempt is automatic/);
    await expect(page.getByRole("row", { name: /Dredge log/ })).toContainText("under way");
    await slipwayFaults("seed=3");
    await expect(margin.getByRole("list", { name: "Progress" }).first()).toContainText(/verified \d/);
  } finally {
    await slipwayFaults("seed=3");
  }
});
