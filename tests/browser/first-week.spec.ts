import { expect, isAccessible, signIn, test } from "./harbour";

test("what nobody has said is proposed with evidence, said of all together, and taken back", async ({ page }) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "What nobody has said of sites, and what is proposed" }).click();
  await page.getByRole("button", { name: /^unit: \d+ not said$/ }).click();
  await isAccessible(page);
  const before = await page.getByRole("button", { name: /^unit:/ }).innerText();
  const proposed = page.getByRole("region", { name: "Proposed" });
  await proposed.getByRole("button", { name: "Look" }).first().click();
  await expect(proposed.getByText(/both owners who have a unit are in/).first()).toBeVisible();
  await expect(proposed.getByText(/^Every rule can be told of \d+ more sites? then\./)).toBeVisible();
  await isAccessible(page);
  await proposed.getByRole("button", { name: /^Say it of \d+ sites, of each its own$/ }).click();
  await expect(page.getByText(/^The unit of \d+ sites is said\.$/)).toBeVisible();
  await expect(page.getByRole("button", { name: /^unit:/ })).not.toHaveText(before);
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(page.getByRole("button", { name: /^unit:/ })).toHaveText(before);

  // Of what nothing speaks, a word decides: somebody says it, with the effect before the deed.
  await page.getByRole("button", { name: /^purpose:/ }).click();
  const next = page.getByRole("region", { name: "To say next" });
  await next.getByRole("button", { name: "Look" }).first().click();
  await expect(next.getByRole("button", { name: /^Say/ })).toHaveCount(0);
  await next.getByLabel(/^The purpose of all of them is/).selectOption("Records");
  await expect(next.getByRole("button", { name: /^Say “Records” of \d+ sites$/ })).toBeVisible();
  await isAccessible(page);
});

test("sources that disagree are both shown with times, and a decision stands until somebody says something new", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/first-week");
  await page
    .getByText(/^Sources say different things of/)
    .getByRole("link")
    .click();
  await page.getByRole("grid").getByRole("link", { name: "Holm contract room" }).click();
  const said = page.getByRole("region", { name: "Sources say different things" });
  await expect(said.getByText("Unit: undecided")).toBeVisible();
  await expect(said.getByRole("listitem").filter({ hasText: "Dredging says Slipway" }).last()).toContainText(
    "it stands",
  );
  await isAccessible(page);
  await said.getByRole("listitem").filter({ hasText: "Dredging says Slipway" }).last().getByRole("button").click();
  await expect(said.getByText(/^decided here by Nora Bell, since/)).toBeVisible();
  await expect(said.getByText("Unit: undecided")).toBeHidden();
  await isAccessible(page);
  await said.getByRole("button", { name: "Take it back" }).click();
  await expect(said.getByText("Unit: undecided")).toBeVisible();
});
