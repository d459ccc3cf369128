import { expect, isAccessible, signIn, test } from "./harbour";

test("a word of sources is given a meaning, its effect foreseen, and taken back; a class with limits stays", async ({
  page,
}) => {
  await signIn(page, "n.bell");
  await page.goto("/words");
  const loose = page.getByRole("region", { name: "Words that mean nothing yet" });
  await loose.getByRole("button", { name: "Say what boats means" }).click();
  await loose.getByLabel("It means").selectOption("Ships");
  await expect(loose.getByText(/^\d+ sites read otherwise then:/)).toBeVisible();
  await isAccessible(page);
  await loose.getByRole("button", { name: "Read “boats” as Ships" }).click();
  await expect(page.getByRole("status")).toContainText("Read “boats” as Ships: done.");
  await expect(loose.getByText("boats", { exact: true })).toHaveCount(0);

  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(loose.getByRole("button", { name: "Say what boats means" })).toBeVisible();

  await page.getByRole("button", { name: /^Classes/ }).click();
  await expect(page).toHaveURL(/fact=class/);
  await page.getByRole("button", { name: "Change Sealed" }).click();
  await page.getByRole("button", { name: "Drop", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("The house has limits for Sealed");
});

test("a site is tagged from the approved list, and what its makers write stands beside", async ({ page }) => {
  await signIn(page, "n.bell");
  await page.goto("/?filter=" + encodeURIComponent('words eq "weather"'));
  await page.getByRole("grid", { name: "Sites" }).getByRole("link").first().click();
  const about = page.getByRole("region", { name: "What it is" });
  await expect(about).toContainText("its makers also write");
  await about.getByRole("button", { name: "Choose tags" }).click();
  await about.getByRole("checkbox", { name: "Safety" }).check();
  await isAccessible(page);
  await about.getByRole("button", { name: "Decide" }).click();
  await expect(about.getByRole("button", { name: "Choose tags" })).toBeVisible();
  await expect(about.getByText("Safety")).toBeVisible();

  // The decision is said beside the host's word, and taken back there.
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(about).toContainText("its makers also write");
});
