import { expect, isAccessible, signIn, test } from "./harbour";

test("a range is marked, planned for each, narrowed in bulk, and tells what became of each", async ({ page }) => {
  await signIn(page, "n.bell", "/?unit=FIN&rule=R-07");
  const grid = page.getByRole("grid", { name: "Sites" });
  await expect(grid.getByRole("row").nth(1)).toBeVisible();
  const lines = Number(await grid.getAttribute("aria-rowcount")) - 1;
  await grid.focus();
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  await page.keyboard.press("Shift+End");
  const bar = page.getByRole("region", { name: "Marked sites" });
  await expect(bar.getByRole("status")).toContainText(`${lines} sites are marked`);
  await expect(page.getByRole("row", { selected: true })).toHaveCount(Math.min(lines, 11));
  await page.keyboard.press("Space");
  await expect(bar.getByRole("status")).toContainText(`${lines - 1} site`);
  await isAccessible(page);

  // Marks stay while one looks at a site.
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.goBack();
  await bar.getByRole("button", { name: /^Narrow to what is allowed/ }).click();

  await expect(page.getByText("Nothing is done yet.")).toBeVisible();
  await isAccessible(page);
  const start = page.getByRole("button", { name: /^Narrow \d+ sites? to what the house permits$/ });
  const doable = Number(/\d+/.exec((await start.textContent()) ?? "")?.[0]);
  expect(doable).toBeGreaterThan(0);
  const address = page.url();
  await page.getByLabel("Reason (if you like)").fill("Before the audit");
  await start.click();

  // The page can be left; it goes on by itself, and the address leads back.
  await page.goto("/desk");
  await page.goto(address);
  await expect(page.getByRole("button", { name: `${doable} done` })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/“Before the audit”/)).toBeVisible();
  await page.getByRole("button", { name: `${doable} done` }).click();
  await expect(page.getByRole("cell", { name: "done", exact: true })).toHaveCount(doable);
  await isAccessible(page);
  await page.goto("/?unit=FIN&rule=R-07");
  await expect(page.getByRole("heading", { level: 1, name: "Register" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Marked sites" })).toHaveCount(0);
});
