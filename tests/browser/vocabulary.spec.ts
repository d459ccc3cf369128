import { expect, isAccessible, signIn, test } from "./harbour";

test("a word that sources use is mapped, with its effect shown first, and undone; a classification with limits stays", async ({
  page,
}) => {
  await signIn(page, "n.bell");
  await page.goto("/vocabulary");
  const unmapped = page.getByRole("region", { name: "Unmapped words" });
  await unmapped.getByRole("button", { name: "Map boats" }).click();
  await unmapped.getByLabel("Meaning").selectOption("Ships");
  await expect(unmapped.getByText(/^\d+ sites change:/)).toBeVisible();
  await isAccessible(page);
  await unmapped.getByRole("button", { name: "Map “boats” to Ships" }).click();
  await expect(page.getByRole("status")).toContainText("Map “boats” to Ships: done.");
  await expect(unmapped.getByText("boats", { exact: true })).toHaveCount(0);

  await page.getByRole("button", { name: "Undo" }).click();
  await expect(unmapped.getByRole("button", { name: "Map boats" })).toBeVisible();

  await page.getByRole("button", { name: /^Classifications/ }).click();
  await expect(page).toHaveURL(/fact=class/);
  await page.getByRole("button", { name: "Change Sealed" }).click();
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("A limit applies to sites classified Sealed");
});

test("a site is tagged from the approved list, beside the tags its authors use at the host", async ({ page }) => {
  await signIn(page, "n.bell");
  await page.goto("/?filter=" + encodeURIComponent('unmapped eq "weather"'));
  await page.getByRole("grid", { name: "Sites" }).getByRole("link").first().click();
  const about = page.getByRole("region", { name: "What it is" });
  await expect(about).toContainText("its makers also use");
  await about.getByRole("button", { name: "Choose tags" }).click();
  await about.getByRole("checkbox", { name: "Safety" }).check();
  await isAccessible(page);
  await about.getByRole("button", { name: "Set the tags" }).click();
  await expect(about.getByRole("button", { name: "Choose tags" })).toBeVisible();
  await expect(about.getByText("Safety")).toBeVisible();

  // The decision appears beside the host's claim, and is undone there.
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(about).toContainText("its makers also use");
});
