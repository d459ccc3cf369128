import { expect, isAccessible, signIn, test } from "./harbour";

test("a site with an exception from a rule has no finding until the exception ends", async ({ page }) => {
  await signIn(page, "n.bell", "/?where=host:is:Quay&rule=R-03&sort=title");
  const first = page.getByRole("grid").getByRole("link").first();
  const title = (await first.textContent()) ?? "";
  await first.click();
  const notes = page.getByRole("complementary", { name: "Details" });
  await notes.getByRole("button", { name: "Grant an exception … (R-03)" }).click();
  await notes.getByLabel(/^Reason why it may break R-03/).fill("The second keeper starts in spring");
  await notes.getByLabel(/^Last day/).fill(new Date(Date.now() + 60 * 86_400_000).toISOString().slice(0, 10));
  await expect(notes.getByText(/the site may stay as it is/)).toBeVisible();
  await isAccessible(page);
  await notes.getByRole("button", { name: "Grant the exception", exact: true }).click();
  await expect(
    notes.getByText(/^Exception until the end of .* by Nora Bell: The second keeper starts in spring/),
  ).toBeVisible();
  await isAccessible(page);

  await page.goto("/?rule=excepted");
  await expect(page.getByRole("grid").getByRole("link", { name: title, exact: true })).toBeVisible();
  await page.goto("/deadlines");
  await expect(page.getByText(`An exception ends: ${title}`)).toBeVisible();
  await page.goto("/reports/holds");
  const row = page.getByRole("row").filter({ hasText: "The second keeper starts in spring" });
  await expect(row).toContainText("exception from R-03");
  await row.getByRole("link").click();

  await notes.getByRole("button", { name: "End the exception …" }).click();
  await notes.getByLabel("Reason for ending it now").fill("They started early");
  await notes.getByRole("button", { name: "End the exception", exact: true }).click();
  await expect(notes.getByRole("button", { name: "Grant an exception … (R-03)" })).toBeVisible();
  await expect(page.getByText("an exception was ended before its day").first()).toBeVisible();
});
