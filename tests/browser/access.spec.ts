import { expect, isAccessible, signIn, test } from "./harbour";

test("why somebody does not get in, the grant that lets them in, and why they do then", async ({ page }) => {
  await signIn(page, "n.bell", `/?filter=${encodeURIComponent('title eq "Night pilots log"')}`);
  await page.getByRole("row").nth(1).getByRole("link").first().click();
  await expect(page.getByRole("heading", { name: "Night pilots log", level: 1 })).toBeVisible();
  await page.getByRole("link", { name: "Ask why somebody gets in or not …" }).first().click();
  await isAccessible(page);

  await page.getByLabel("What").selectOption("edit");
  await page.getByLabel("A person").fill("d.lund@");
  await page.getByRole("button", { name: "Delphine Lund" }).click();
  await expect(page.getByRole("heading", { name: "No Delphine Lund cannot edit it." })).toBeVisible();
  await expect(page.getByRole("row", { name: /Unit Pilotage/ })).toContainText("lets them in");
  await expect(page.getByText("Grant Delphine Lund the power to edit.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Not signed in" }).click();
  await expect(page.getByRole("heading", { name: "No Somebody who is not signed in cannot edit it." })).toBeVisible();
  await expect(page.getByText("Policy does not allow it all the same")).toBeVisible();
  await page.goBack();

  await page.getByRole("link", { name: "Ask why somebody gets in or not …" }).first().click();
  await page.getByLabel("What").selectOption("edit");
  await page.getByLabel("A person").fill("d.lund@");
  await page.getByRole("button", { name: "Delphine Lund" }).click();
  await page.getByRole("link", { name: "Grant it …" }).click();
  await expect(page.getByRole("radio", { name: /^Edit it/ })).toBeChecked();
  await expect(page.getByText("Delphine Lund can edit it from then on")).toBeVisible();
  await isAccessible(page);

  // What policy does not allow is refused with the limits that do not.
  await page.getByRole("radio", { name: "Anonymous visitors" }).check();
  await page.getByLabel("Reason").fill("For the regatta");
  await expect(page.getByText(/Policy does not allow it for Anonymous visitors: limited by .*Pilotage/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Grant access" })).toBeDisabled();
  await page.getByRole("radio", { name: "A person or a group" }).check();
  await page.getByRole("button", { name: "Grant access" }).click();

  await expect(page.getByRole("heading", { name: "Night pilots log", level: 1 })).toBeVisible();
  const why = page.getByRole("link", { name: "Why Delphine Lund gets in or not" });
  await expect(why).toBeVisible();
  await why.click();
  await expect(page.getByRole("heading", { name: "Yes Delphine Lund can edit it." })).toBeVisible();
  await expect(page.getByText("Policy allows it.")).toBeVisible();
});

test("the limits are read across, one is tried out, and one is set with its reason and removed", async ({ page }) => {
  await signIn(page, "n.bell", "/limits");
  await expect(page.getByRole("row", { name: /Classification Sealed/ })).toContainText("named; no one");
  await isAccessible(page);

  await page.getByRole("link", { name: "Try out … Slipway" }).click();
  await page.getByLabel("Published site: outside").selectOption("no-one");
  await expect(page.getByRole("heading", { name: /Something changes on \d+ sites of/ })).toBeVisible();
  await expect(page.getByText(/guests among them/)).toBeVisible();
  await expect(page.getByText("This is a setting of Slipway.")).toBeVisible();
  await expect(page.getByRole("button", { name: "Set the limit" })).toHaveCount(0);
  await isAccessible(page);
  await page.getByRole("button", { name: "Back" }).click();

  await page.getByLabel("Add a limit for").selectOption({ label: "Unit Wildlife" });
  await page.getByRole("button", { name: "Try it out …" }).click();
  await page.getByLabel("Editing: outside").selectOption("no-one");
  await expect(page.getByRole("heading", { name: /changes? on \d+ sites?/ })).toBeVisible();
  const set = page.getByRole("button", { name: "Set the limit" });
  await expect(set).toBeDisabled();
  await page.getByLabel("Reason").fill("Nests are not edited from outside");
  await set.click();
  const row = page.getByRole("row", { name: /Unit Wildlife/ });
  await expect(row).toContainText("Nests are not edited from outside");

  await row.getByRole("link", { name: "Change … Unit Wildlife" }).click();
  await page.getByRole("button", { name: "Remove the limit instead" }).click();
  await page.getByLabel("Reason").fill("Tried only");
  await page.getByRole("button", { name: "Remove the limit" }).click();
  await expect(page.getByRole("heading", { name: "Limits", level: 1 })).toBeVisible();
  await expect(row).toHaveCount(0);
});

test("all sites by access inside and outside, and a number opens its sites", async ({ page }) => {
  await signIn(page, "n.bell", "/access");
  const cell = page.getByRole("link", { name: /sites: inside All staff, outside Anonymous visitors/ });
  await expect(cell).toContainText("exceed policy");
  await isAccessible(page);
  const count = /^\d+/.exec((await cell.textContent()) ?? "")?.[0] ?? "none";
  await cell.click();
  await expect(page.getByRole("status").first()).toContainText(`${count} of `);
});
