import { expect, isAccessible, signIn, test } from "./harbour";

test("a list of people says what it would come to, is taken in and taken back", async ({ page }) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "Take in a list of people" }).click();
  // Whoever a list brought stays when it is taken back, so each run has a person of its own.
  const mail = `s.holm.${Date.now()}@sealcount.example`;
  const list = `E-mail,Full name,Type,Last day\n${mail},Sanna Holm,guest,\ni.vane@merrowby.example,,,31.01.2031\n`;
  await page
    .getByLabel("The list", { exact: true })
    .setInputFiles({ name: "people.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
  await page.getByRole("button", { name: "See what it would come to" }).click();
  await expect(page.getByText(/^1 person in the list: 1 new, 0 changed\./)).toBeVisible();
  await expect(page.getByText(/^Line 3: the staff list speaks of them/)).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Take in 1 person" }).click();
  await expect(page.getByText("Taken in. It can be taken back below.")).toBeVisible();
  await page.getByRole("button", { name: "Take it back …" }).click();
  await expect(page.getByText("1 person whom it brought stays, as having left.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Take the list back" }).click();
  await expect(page.getByText(/Taken back /)).toBeVisible();
});
