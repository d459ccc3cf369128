import { expect, isAccessible, signIn, test } from "./harbour";

test("a rule from the register's sentence, from tomorrow: its cause on the desk, the remedy adjusted, carried out and undone", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/?unit=DOC&status=never-published");
  await page.getByRole("link", { name: "Rule for these sites" }).click();
  await page.getByLabel("must satisfy").fill('created ge "-P1D"');
  await page.getByRole("button", { name: "Try it out" }).click();
  const found = page.getByRole("region", { name: "What it would find" }).getByRole("status");
  await expect(found).toContainText("would break it");
  const breaks = Number(/; (\d+) sites? would break it/.exec(await found.innerText())![1]);
  expect(breaks).toBeGreaterThan(3);
  const form = page.getByRole("form", { name: "Make it a rule" });
  await form.getByLabel("Title").fill("Drafts of the docks are young");
  await form.getByLabel("Short name of its findings").fill("old draft");
  const first = form.getByLabel("First day");
  const tomorrow = new Date(`${await first.inputValue()}T00:00:00Z`);
  tomorrow.setUTCDate(tomorrow.getUTCDate() + 1);
  await first.fill(tomorrow.toISOString().slice(0, 10));
  await form.getByRole("button", { name: /^Put R-\d+ in force from/ }).click();
  await expect(page.getByRole("heading", { name: "Drafts of the docks are young" })).toBeVisible();
  const rule = /R-\d+$/.exec(page.url())![0];

  // Today it is not on the desk; tomorrow it is, with the number that was foreseen.
  await page.goto("/desk");
  const cause = page.getByRole("listitem").filter({ hasText: "Drafts of the docks are young" });
  await expect(page.getByRole("status").first()).toContainText("decisions");
  await expect(cause).toHaveCount(0);
  await page.goto("/demo-clock");
  await page.getByRole("button", { name: "a day" }).click();
  await expect(page.getByText(/^Moved/)).toBeVisible();
  await page.goto("/desk");
  await expect(cause).toContainText(`${breaks} sites break this rule`);
  await isAccessible(page);

  // By keys: down to it, and its remedy.
  const place = await cause.evaluate((item) => [...document.querySelectorAll("[data-item]")].indexOf(item));
  await page.locator("[data-item]").nth(place).focus();
  await page.keyboard.press("r");
  await expect(page.getByRole("heading", { level: 1, name: `Remedies on ${breaks} sites` })).toBeVisible();
  const rows = page.getByRole("row").filter({ has: page.getByRole("link") });
  await expect(rows.filter({ hasText: "Move to the attic" })).toHaveCount(breaks);
  await isAccessible(page);

  // One is left out, and one has an exception instead.
  await rows
    .nth(0)
    .getByRole("button", { name: /^Leave out/ })
    .click();
  await expect(page.getByRole("button", { name: "1 left out" })).toBeVisible();
  await rows
    .nth(1)
    .getByRole("button", { name: /^Change …/ })
    .click();
  await page.getByRole("radio", { name: /^Exception from R-/ }).check();
  await page.getByLabel("Last day of the exception").fill("2027-01-31");
  await isAccessible(page);
  await page.getByRole("button", { name: "Plan it so" }).click();
  await expect(rows.nth(1)).toContainText(`Exception from ${rule} until the end of 31 Jan 2027`);

  const start = page.getByRole("button", { name: `Carry out on ${breaks - 1} sites` });
  await expect(start).toBeDisabled();
  await page.getByLabel("How many sites").fill(String(breaks - 1));
  await page.getByLabel("Reason").fill("Never finished");
  await start.click();
  // One of the drafts can be edited by anonymous visitors.
  await expect(page.getByRole("button", { name: "1 wait for a second person" })).toBeVisible();
  await expect(page.getByRole("button", { name: `${breaks - 2} done` })).toBeVisible({ timeout: 60_000 });
  await page.goto("/desk");
  await expect(cause).toContainText("2 sites break this rule");

  // Undone as one: the sites are restored, the exception ends.
  await page.goBack();
  await page.getByRole("button", { name: "Undo on all sites …" }).click();
  await expect(rows.filter({ hasText: `End the exception from ${rule}` })).toHaveCount(1);
  await page.getByLabel("Reason").fill("They are needed");
  await page.getByRole("button", { name: `Carry out on ${breaks - 2} sites` }).click();
  await expect(page.getByRole("button", { name: `${breaks - 2} done` })).toBeVisible({ timeout: 60_000 });
  await page.goto("/desk");
  await expect(cause).toContainText(`${breaks} sites break this rule`);

  // The history has it all on its day.
  await page.goto("/reports/findings-by-rule");
  await expect(page.getByRole("row").filter({ hasText: "Drafts of the docks are young" })).toContainText(
    String(breaks),
  );
  await isAccessible(page);
});
