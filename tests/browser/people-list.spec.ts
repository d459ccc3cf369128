import { expect, isAccessible, signIn, test } from "./harbour";

test("a list of people shows its plan, is imported and undone", async ({ page }) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "Import people" }).click();
  // People whom an import added stay when it is undone, so each run has a person of its own.
  const mail = `s.holm.${Date.now()}@sealcount.example`;
  const list = `E-mail,Full name,Type,Last day\n${mail},Sanna Holm,guest,\ni.vane@merrowby.example,,,31.01.2031\n`;
  await page
    .getByLabel("File", { exact: true })
    .setInputFiles({ name: "people.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
  await page.getByRole("button", { name: "Show the plan" }).click();
  await expect(page.getByText(/^1 person in the list: 1 new, 0 changed\./)).toBeVisible();
  await expect(page.getByText(/^Line 3: the staff list reports something else/)).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Import 1 person" }).click();
  await expect(page.getByText("Imported. It can be undone below.")).toBeVisible();
  await page.getByRole("button", { name: "Undo …" }).click();
  await expect(page.getByText("1 person whom it added stays, as having left.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Undo the import" }).click();
  await expect(page.getByText(/Undone /)).toBeVisible();
});
