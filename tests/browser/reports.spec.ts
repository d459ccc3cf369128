import { expect, isAccessible, signIn, test } from "./harbour";

test("a report can be viewed, printed and exported, and for a past day it is computed from the journal", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/reports");
  await isAccessible(page);
  await page.getByRole("link", { name: "Access from outside" }).click();
  const table = page.getByRole("table");
  await expect(table).toContainText("Anonymous visitors");
  await isAccessible(page);

  // On paper there is the report and nothing to press.
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("banner")).toBeHidden();
  await expect(page.getByRole("button", { name: "Print" })).toBeHidden();
  const paper = await page.pdf({ preferCSSPageSize: true });
  expect(paper.subarray(0, 5).toString()).toBe("%PDF-");
  await page.emulateMedia({ media: "screen" });

  const rows = (await table.getByRole("row").count()) - 1;
  await page.getByRole("button", { name: "Export" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: /^JSON Lines/ }).click();
  const stream = await (await download).createReadStream();
  let lines = 0;
  for await (const chunk of stream) lines += String(chunk).split("\n").length - 1;
  expect(lines).toBe(rows);

  await page.goto("/reports/coverage");
  await expect(table).toContainText("Slipway");
  await page.getByLabel("Day").fill("2020-01-01");
  await expect(page).toHaveURL(/on=/);
  await expect(page.getByText("The report is empty", { exact: false })).toBeVisible();
});
