import { expect, isAccessible, signIn, test } from "./harbour";

test("the rule book shows the numbers of its rules, and a rule is tried out without consequences", async ({ page }) => {
  await signIn(page, "n.bell", "/rules");
  const owners = page.getByRole("row", { name: /Two active owners/ });
  await expect(owners).toContainText("owners.active.count ge 2");
  await isAccessible(page);

  // Every number leads to as many sites.
  const count = (
    await owners
      .getByRole("link", { name: /^[0-9,]+$/ })
      .first()
      .innerText()
  ).trim();
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

test("a rule is written from the register's sentence, put in force, changed, undone and switched off", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/?unit=MAR");
  await page.getByRole("link", { name: "Rule for these sites" }).click();
  await expect(page.getByLabel("Sites where (empty: all sites in use)")).toHaveValue('units eq "MAR"');
  await page.getByLabel("must satisfy").fill("pages le 6");
  await page.getByRole("button", { name: "Try it out" }).click();
  const found = page.getByRole("region", { name: "What it would find" }).getByRole("status");
  await expect(found).toContainText("would break it");
  const breaks = Number(/; (\d+) sites? would break it/.exec(await found.innerText())![1]);
  expect(breaks).toBeGreaterThan(1);

  // It says what is missing, and then what it does; nothing is written before it is confirmed.
  const form = page.getByRole("form", { name: "Make it a rule" });
  const write = form.getByRole("button", { name: /^Put / });
  await expect(write).toBeDisabled();
  await form.getByLabel("Title").fill("Sites of the marine units are small");
  await form.getByLabel("Short name of its findings").fill("many pages");
  await form.getByLabel("Level").selectOption("note");
  await expect(write).toHaveText(/^Put R-\d+ in force today$/);
  await isAccessible(page);
  await write.click();
  await expect(page.getByRole("heading", { name: "Sites of the marine units are small" })).toBeVisible();
  const rule = /R-\d+$/.exec(page.url())![0];
  await expect(page.getByRole("link", { name: `${breaks} break it` })).toBeVisible();
  await isAccessible(page);
  await page.getByRole("link", { name: `${breaks} break it` }).click();
  await expect(page.getByText(new RegExp(`^${breaks} of \\d+ sites$`))).toBeVisible();
  await page.goto(`/rules/${rule}`);

  // Changed with a reason: the page names the difference, and undoing brings the earlier version back.
  await page.getByRole("link", { name: "Change it" }).click();
  await page.getByLabel("must satisfy").fill("pages le 1000");
  await page.getByRole("button", { name: "Try it out" }).click();
  await expect(found).toContainText(`0 findings more, ${breaks} fewer`);
  await form.getByLabel("Reason").fill("Too strict");
  await form.getByRole("button", { name: `Put ${rule} in force today` }).click();
  const versions = page.getByRole("region", { name: "Versions" });
  await expect(versions).toContainText("demand: pages le 6 → pages le 1000");
  await expect(page.getByText("0 break it")).toBeVisible();
  await versions.getByRole("button", { name: "Undo version 2" }).click();
  await expect(versions).toContainText("Version 3");
  await expect(page.getByRole("link", { name: `${breaks} break it` })).toBeVisible();

  // Switched off, its findings end, and the journal says who and why.
  await page.getByRole("button", { name: `Switch ${rule} off …` }).click();
  const off = page.getByRole("form", { name: `Switch ${rule} off` });
  await off.getByLabel("Reason").fill("Tried for a day");
  await expect(off).toContainText(`${breaks} findings end with it.`);
  await isAccessible(page);
  await off.getByRole("button", { name: `Switch ${rule} off` }).click();
  await expect(page.getByText("Not in force.")).toBeVisible();
  await page.goto("/journal?action=rule.switched-off");
  await expect(page.getByText("Tried for a day").first()).toBeVisible();
});

test("a rule is written as a sentence of parts, with the expression beside it, always in step", async ({ page }) => {
  await signIn(page, "n.bell", "/rules");
  await page.getByRole("link", { name: "Try a new rule out" }).click();
  const scope = page.getByLabel("Sites where (empty: all sites in use)");
  const words = page.getByRole("list", { name: "The scope in words" });

  await words.getByRole("button", { name: "Add a condition" }).click();
  await page.getByRole("textbox", { name: "Find an attribute" }).fill("classification");
  await page
    .getByRole("button", { name: /^classification/ })
    .first()
    .click();
  await page.getByRole("checkbox", { name: /^Guarded/ }).check();
  await page.getByRole("button", { name: "Set the condition" }).click();
  await expect(scope).toHaveValue('classification eq "Guarded"');

  await scope.fill('classification eq "Guarded" and joining lt "open" and edited lt "-P30D"');
  const days = words.getByRole("button", { name: /is more than 30 days ago/ });
  await expect(words).toContainText('joining lt "open"');
  await days.click();
  await page.getByLabel("Day", { exact: true }).selectOption("90 days ago");
  await page.getByRole("button", { name: "Set the condition" }).click();
  await expect(scope).toHaveValue('classification eq "Guarded" and joining lt "open" and edited lt "-P90D"');
  await words.getByRole("button", { name: /^Condition: .*Guarded/ }).click();
  await page.getByRole("button", { name: "Remove the condition" }).click();
  await expect(scope).toHaveValue('joining lt "open" and edited lt "-P90D"');
  await scope.fill("joining lt");
  await expect(page.getByText("In words as soon as the expression can be read.")).toBeVisible();
  await scope.fill("joining pr");
  await isAccessible(page);
});
