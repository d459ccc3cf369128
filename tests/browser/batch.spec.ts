import { expect, isAccessible, signIn, test } from "./harbour";

test("a range is selected, planned site by site, restricted in bulk, and each result is shown", async ({ page }) => {
  await signIn(page, "n.bell", "/?unit=FIN&rule=R-07");
  const grid = page.getByRole("grid", { name: "Sites" });
  await expect(grid.getByRole("row").nth(1)).toBeVisible();
  const lines = Number(await grid.getAttribute("aria-rowcount")) - 1;
  await grid.focus();
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  await page.keyboard.press("Shift+End");
  const bar = page.getByRole("region", { name: "Selected sites" });
  await expect(bar.getByRole("status")).toContainText(`${lines} sites selected`);
  await expect(page.getByRole("row", { selected: true })).toHaveCount(Math.min(lines, 11));
  await page.keyboard.press("Space");
  await expect(bar.getByRole("status")).toContainText(`${lines - 1} site`);
  await isAccessible(page);

  // The selection stays while one looks at a site.
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.goBack();
  await bar.getByRole("button", { name: /^Restrict to policy/ }).click();

  await expect(page.getByText("Nothing has been done yet.")).toBeVisible();
  await isAccessible(page);
  const start = page.getByRole("button", { name: /^Restrict \d+ sites? to policy$/ });
  const planned = Number(/\d+/.exec((await start.textContent()) ?? "")?.[0]);
  expect(planned).toBeGreaterThan(0);
  const address = page.url();
  await page.getByLabel("Reason (optional)").fill("Before the audit");
  await start.click();

  // One may leave the page: the work continues, and the address leads back to it.
  await page.goto("/desk");
  await page.goto(address);
  await expect(page.getByRole("button", { name: `${planned} done` })).toBeVisible();
  await expect(page.getByText(/“Before the audit”/)).toBeVisible();
  await page.getByRole("button", { name: `${planned} done` }).click();
  await expect(page.getByRole("cell", { name: "done", exact: true })).toHaveCount(planned);
  await isAccessible(page);
  await page.goto("/?unit=FIN&rule=R-07");
  await expect(page.getByRole("heading", { level: 1, name: "Register" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Selected sites" })).toHaveCount(0);
});
