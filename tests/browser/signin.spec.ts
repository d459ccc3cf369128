import { expect, isAccessible, signIn, test } from "./harbour";

test("a wrong password is reported beside the field, and what was typed stays", async ({ page }) => {
  await page.goto("/journal");
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await isAccessible(page);
  await page.getByLabel("Mail address").fill("h.nair@merrowby.example");
  await page.getByLabel("Password").fill("wrong");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toHaveText("The mail address or the password is wrong.");
  await expect(page.getByLabel("Mail address")).toHaveValue("h.nair@merrowby.example");

  // After the right one, one is where one wanted to go.
  await page.getByLabel("Password").fill("merrowby-harbour");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Journal" })).toBeVisible();
});

test("a session that is ended elsewhere has ended here", async ({ page, browser }) => {
  await signIn(page, "g.sollis");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "g.sollis");
  await other.getByRole("button", { name: /^Account:/ }).click();
  const ends = other.getByRole("button", { name: "End the session" });
  await expect(ends.first()).toBeVisible();
  for (let left = await ends.count(); left > 0; left--) {
    await ends.first().click();
    await expect(ends).toHaveCount(left - 1);
  }
  await expect(page.getByRole("button", { name: "Sign in" })).toBeVisible();
  await other.context().close();
});

test("the dark colours are as accessible as the light ones", async ({ page }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await signIn(page, "n.bell");
  await isAccessible(page);
  await page.goto("/?filter=name%20eq%20%22Pilot%20boarding%20notes%22");
  await page.getByRole("link", { name: "Pilot boarding notes" }).first().click();
  await expect(page.getByRole("heading", { name: "Pilot boarding notes" })).toBeVisible();
  await isAccessible(page);
  await page.goto("/journal");
  await expect(page.getByRole("heading", { name: "Journal" })).toBeVisible();
  await isAccessible(page);
});
