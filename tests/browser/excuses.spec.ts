import { expect, isAccessible, signIn, test } from "./harbour";

test("a site is excused from a rule through a day, is no finding meanwhile, and is one again when that is ended", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/?where=host:is:Quay&rule=R-03&sort=title");
  const first = page.getByRole("grid").getByRole("link").first();
  const title = (await first.textContent()) ?? "";
  await first.click();
  const notes = page.getByRole("complementary", { name: "Margin" });
  await notes.getByRole("button", { name: "Excuse it … (R-03)" }).click();
  await notes.getByLabel(/^Why it may break R-03/).fill("The second keeper starts in spring");
  await notes.getByLabel(/^Through/).fill(new Date(Date.now() + 60 * 86_400_000).toISOString().slice(0, 10));
  await expect(notes.getByText(/the site may stand as it does/)).toBeVisible();
  await isAccessible(page);
  await notes.getByRole("button", { name: "Excuse it", exact: true }).click();
  await expect(notes.getByText(/^Excused through .* by Nora Bell: The second keeper starts in spring/)).toBeVisible();
  await isAccessible(page);

  await page.goto("/?rule=excused");
  await expect(page.getByRole("grid").getByRole("link", { name: title, exact: true })).toBeVisible();
  await page.goto("/calendar");
  await expect(page.getByText(`An excuse ends: ${title}`)).toBeVisible();
  await page.goto("/reports/holds");
  const row = page.getByRole("row").filter({ hasText: "The second keeper starts in spring" });
  await expect(row).toContainText("excused from R-03");
  await row.getByRole("link").click();

  await notes.getByRole("button", { name: "End the excuse …" }).click();
  await notes.getByLabel("Why it ends now").fill("They started early");
  await notes.getByRole("button", { name: "End the excuse", exact: true }).click();
  await expect(notes.getByRole("button", { name: "Excuse it … (R-03)" })).toBeVisible();
  await expect(page.getByText("an excuse was ended before its day").first()).toBeVisible();
});
