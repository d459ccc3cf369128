import { expect, isAccessible, signIn, test } from "./harbour";

test("the rule book shows the numbers of its rules, and a rule is tried out without consequences", async ({ page }) => {
  await signIn(page, "n.bell", "/rules");
  const owners = page.getByRole("row", { name: /Two active owners/ });
  await expect(owners).toContainText("owners.active.count ge 2");
  await isAccessible(page);

  // Every number leads to as many sites.
  const count = (await owners.getByRole("link").first().innerText()).trim();
  await owners.getByRole("link", { name: count, exact: true }).first().click();
  await expect(page.getByText(new RegExp(`^${count} of \\d+ sites$`))).toBeVisible();
  await page.goBack();

  // A stricter one, compared with it.
  await owners.getByRole("link", { name: /^Vary/ }).click();
  const demand = page.getByLabel("must satisfy");
  await expect(demand).toHaveValue("owners.active.count ge 2");
  const found = page.getByRole("region", { name: "What it would find" });
  await expect(found).toContainText("Compared with R-03: 0 findings more, 0 fewer.");
  await demand.fill("owners.active.count ge 3");
  await page.getByRole("button", { name: "Try it out" }).click();
  await expect(found).toContainText(/Compared with R-03: [1-9]\d* findings more, 0 fewer\./);
  await expect(found.getByText("First of the new findings")).toBeVisible();
  await expect(found.getByText("the number of active owners: 2").first()).toBeVisible();
  await isAccessible(page);

  // A mistake is shown at its column, and nothing that was typed is lost; the link carries the rule.
  await page.getByLabel("Sites where (empty: all sites in use)").fill("unit eq");
  await page.getByRole("button", { name: "Try it out" }).click();
  await expect(page.getByRole("alert")).toContainText("Column 8: expected a space and a value");
  await expect(demand).toHaveValue("owners.active.count ge 3");
  await isAccessible(page);
  await page.goto(page.url());
  await expect(page.getByRole("alert")).toContainText("Column 8");
});

test("a steward tries a rule out on the sites of their units only", async ({ page, browser }) => {
  const path = `/rules?demand=${encodeURIComponent("owners.active.count ge 3")}`;
  const found = (of: typeof page) => of.getByRole("region", { name: "What it would find" }).getByRole("status");
  await signIn(page, "h.nair", path);
  await expect(found(page)).toContainText("would break it");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "g.sollis", path);
  await expect(found(other)).toContainText("would break it");
  const covers = async (of: typeof page) => Number((await found(of).innerText()).split(" ")[0]);
  expect(await covers(page)).toBeLessThan(await covers(other));
  await other.context().close();
});
