import { expect, isAccessible, signIn, test } from "./harbour";

const three = ["Old charts survey", "Port dues calendar (copy)", "Old lifeboat fund"];
const filter = three.map((title) => `title eq "${title}"`).join(" or ");

test("three sites get names without filler words, one typed by hand, one host refuses, and all is undone", async ({
  page,
}) => {
  await signIn(page, "n.bell", `/?filter=${encodeURIComponent(filter)}`);
  await page.getByRole("row").filter({ hasText: "Old charts survey" }).click();
  await page.keyboard.press("Control+a");
  await page.getByRole("button", { name: "Rename …" }).click();
  await expect(page.getByRole("heading", { name: "Rename 3 sites" })).toBeVisible();
  await isAccessible(page);

  // A way that changes nothing is no plan, and what is typed stays.
  await page.getByLabel("Replace", { exact: true }).fill("sluice");
  await page.getByRole("button", { name: "Plan the new names …" }).click();
  await expect(page.getByRole("alert")).toContainText("None of the sites gets another name this way.");
  await page.getByLabel(/Remove “copy”/).check();
  await page.getByRole("button", { name: "Plan the new names …" }).click();

  await expect(page.getByRole("heading", { name: "Rename 2 sites" })).toBeVisible();
  const line = (title: string) => page.getByRole("row").filter({ hasText: title }).first();
  await expect(line("Port dues calendar (copy)")).toContainText("Rename to “Port dues calendar”");
  await expect(line("Old lifeboat fund")).toContainText(
    "Lantern does not let the name of a site be changed from here.",
  );
  await page.getByRole("button", { name: "Change … what is done on Old charts survey" }).click();
  const name = page.getByLabel("New name of Old charts survey");
  await expect(name).toBeFocused();
  await isAccessible(page);
  await name.fill("Surveys of the charts");
  await page.keyboard.press("Enter");
  await expect(line("Old charts survey")).toContainText("Rename to “Surveys of the charts”");
  await expect(page.getByRole("complementary", { name: "The action" })).toContainText("name says a state (R-10) on 2");
  await page.getByRole("button", { name: "Rename 2 sites" }).click();
  await expect(page.getByText("2 done")).toBeVisible();
  await expect(line("Surveys of the charts")).toContainText("before: Old charts survey");

  await page.getByRole("button", { name: "Undo on all sites …" }).click();
  await expect(page.getByRole("heading", { name: "Undo the changes on 2 sites" })).toBeVisible();
  await page.getByRole("button", { name: "Undo the changes on 2 sites" }).click();
  await expect(page.getByText("2 done")).toBeVisible();
  await expect(line("Old charts survey")).toBeVisible();
});

test("a pasted list renames its sites, and a line that cannot be used is named", async ({ page }) => {
  await signIn(page, "n.bell", "/rename");
  await expect(page.getByRole("heading", { name: "Rename sites from a list" })).toBeVisible();
  await page.getByLabel("List").fill("site\tnew name\nNo such site\tX\nOld charts survey\tSurveys");
  await page.getByRole("button", { name: "Plan the new names …" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "Line 2: no site in use in your scope has the address or the name No such site.",
  );
  await page.getByLabel("List").fill("site\tnew name\nOld charts survey\tSurveys");
  await page.getByRole("button", { name: "Plan the new names …" }).click();
  await expect(page.getByRole("heading", { name: "Rename 1 site" })).toBeVisible();
  await expect(page.getByText("Rename to “Surveys”")).toBeVisible();
});

test("a name that breaks a rule can be changed where the finding is", async ({ page }) => {
  await signIn(page, "n.bell", `/?filter=${encodeURIComponent('title eq "Old charts survey"')}`);
  await page.getByText("Old charts survey").first().click();
  await page
    .getByRole("link", { name: /^Rename … / })
    .first()
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Old charts survey");
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Old charts survey");
});
