import { expect, isAccessible, signIn, test } from "./harbour";

test("unlike hosts in one register: what each leaves out and is like, where a site is, and what it costs", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/sources");
  const lantern = page.getByRole("region", { name: "Lantern" });
  await expect(lantern.getByText(/^Read .*, to the end\.$/)).toBeVisible();
  await expect(lantern.getByText(/^Deletes for good, so the attic is ours/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Quay" }).getByText(/^Has two bins/)).toBeVisible();
  await isAccessible(page);

  await page.getByLabel("Why is a site not here?").fill("dredging plan");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/lies in the attic, so the register leaves it out/)).toBeVisible();
  await page.getByLabel("Why is a site not here?").fill("no such thing");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Lantern was read to the end and names no such site.")).toBeVisible();
  await isAccessible(page);

  // What it does not say leads to just those lines of which nobody can tell.
  await lantern.getByRole("listitem").filter({ hasText: "the class" }).getByRole("link").click();
  await expect(page.getByText(/^7 of \d+ sites/)).toBeVisible();
  await page.getByRole("grid").getByRole("link", { name: "Merrowby sea fair" }).click();
  await expect(page.getByText("Beacon, 96.00 EUR a year; it renews after").first()).toBeVisible();
  await isAccessible(page);
  await page.getByRole("link", { name: "Put away …" }).click();
  await expect(page.getByText(/It goes on costing money\. Beacon: 96\.00 EUR a year/)).toBeVisible();
  await expect(page.getByText(/nothing final is sent there/)).toBeVisible();
  await isAccessible(page);
});

test("a key that lies in a circle is not handed over here, and that is said with the remedy", async ({ page }) => {
  await signIn(page, "n.bell", "/?where=host:is:Quay&sort=title&where=title:is:Pilotage");
  await page.getByRole("grid").getByRole("link", { name: "Pilotage", exact: true }).click();
  await page.getByRole("link", { name: "Hand over the key …" }).click();
  await expect(page.getByText(/Quay lets nobody in by name.*"Pilotage, keepers" at Quay/)).toBeVisible();
  await isAccessible(page);
});
