import { expect, isAccessible, signIn, test } from "./harbour";

test("two sites with near names are shown side by side, said to be both right, and opened again", async ({ page }) => {
  await signIn(page, "n.bell", "/");
  await page.getByRole("link", { name: "Near names" }).click();
  const status = page.getByRole("status");
  await expect(status).toContainText(
    /^[0-9]+ pairs of sites that may be one site made twice; 0 other pairs are both right/,
  );
  const open = parseInt(await status.innerText());
  const pairs = page.getByRole("main").getByRole("listitem");
  await expect(pairs).toHaveCount(Math.min(50, open));
  const pair = pairs.filter({ hasText: "coach-park-photos-2" });
  await expect(pair).toContainText("The same name.");
  await expect(pair.getByRole("link", { name: /^Move Coach park photos .* to the attic$/ })).toHaveCount(2);
  await isAccessible(page);

  await pair.getByRole("button", { name: /^Both are right/ }).click();
  await page.getByLabel("Reason (optional)").fill("One is the archive");
  await isAccessible(page);
  await pair.getByRole("button", { name: "Both are right", exact: true }).click();
  await expect(pair).toHaveCount(0);
  await expect(status).toContainText(`${open - 1} pairs`);

  // The link to the others can be sent.
  await page.getByRole("button", { name: "Both right" }).click();
  await page.goto(page.url());
  await expect(pair).toContainText(/Nora Bell said .* that both are right: One is the archive/);
  await pair.getByRole("link", { name: "Coach park photos" }).first().click();
  await expect(page.getByText("two sites with near names were said to be both right").first()).toBeVisible();
  await page.goBack();
  await pair.getByRole("button", { name: /^Undo/ }).click();
  await expect(page.getByText("Of no pair in your scope has anybody said that both are right.")).toBeVisible();
  await page.getByRole("button", { name: "To decide" }).click();
  await expect(status).toContainText(`${open} pairs`);
});

test("an owner sees pairs of their own sites only, and an auditor decides nothing", async ({ page, browser }) => {
  await signIn(page, "g.sollis", "/twins");
  await expect(page.getByRole("main").getByRole("listitem").first()).toBeVisible();
  await expect(page.getByRole("button", { name: /^Both are right/ })).toHaveCount(0);
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "i.vane", "/twins");
  const all = parseInt(await page.getByRole("status").innerText());
  await expect(other.getByRole("status")).toContainText("may be one site made twice");
  expect(parseInt(await other.getByRole("status").innerText())).toBeLessThan(all);
});
