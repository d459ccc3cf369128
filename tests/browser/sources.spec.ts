import { expect, isAccessible, signIn, test } from "./harbour";

test("different hosts in one register: what each cannot report, what a site of each looks like, and what it costs", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/sources");
  const lantern = page.getByRole("region", { name: "Lantern" });
  await expect(lantern.getByText(/^Synced .*, completely\.$/)).toBeVisible();
  await expect(lantern.getByText(/^Has no bin\./)).toBeVisible();
  await expect(page.getByRole("region", { name: "Quay" }).getByText(/^Has two bins/)).toBeVisible();
  await isAccessible(page);

  await page.getByLabel("Why is a site not here?").fill("dredging plan");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/is in the attic\. The register shows it only/)).toBeVisible();
  await page.getByLabel("Why is a site not here?").fill("no such thing");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Lantern was synced completely and reports no such site.")).toBeVisible();
  await isAccessible(page);

  // Not reported leads to just those lines of which nobody can tell.
  await lantern.getByRole("listitem").filter({ hasText: "the classification" }).getByRole("link").click();
  await expect(page.getByText(/^7 of \d+ sites/)).toBeVisible();
  await page.getByRole("grid").getByRole("link", { name: "Merrowby sea fair" }).click();
  await expect(page.getByText("Beacon, 96.00 EUR a year; it renews after").first()).toBeVisible();
  await isAccessible(page);
  await page.getByRole("link", { name: "Move to the attic …" }).click();
  await expect(page.getByText(/It still costs money\. Beacon: 96\.00 EUR a year/)).toBeVisible();
  await expect(page.getByText(/is only shut there/)).toBeVisible();
  await isAccessible(page);
});

test("ownership through a group cannot be handed over here, and the page names the remedy", async ({ page }) => {
  await signIn(page, "n.bell", "/?where=host:is:Quay&sort=title&where=title:is:Pilotage");
  await page.getByRole("grid").getByRole("link", { name: "Pilotage", exact: true }).click();
  await page.getByRole("link", { name: "Hand over …" }).click();
  await expect(page.getByText(/Quay has access by groups only.*"Pilotage, keepers" at Quay/)).toBeVisible();
  await isAccessible(page);
});
