import { expect, isAccessible, signIn, test } from "./harbour";

test("values that nobody has set are proposed with evidence, set for all of them together, and undone", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "Classification to complete" }).click();
  await page.getByRole("button", { name: /^unit: \d+ not set$/ }).click();
  await isAccessible(page);
  const before = await page.getByRole("button", { name: /^unit:/ }).innerText();
  const proposed = page.getByRole("region", { name: "Proposed" });
  await proposed.getByRole("button", { name: "Review" }).first().click();
  await expect(proposed.getByText(/both owners who have a unit are in/).first()).toBeVisible();
  await expect(proposed.getByText(/^Every rule can tell for \d+ more sites? then\./)).toBeVisible();
  await isAccessible(page);
  await proposed.getByRole("button", { name: /^Set the proposed values for \d+ sites$/ }).click();
  await expect(page.getByText(/^The unit of \d+ sites is set\.$/)).toBeVisible();
  await expect(page.getByRole("button", { name: /^unit:/ })).not.toHaveText(before);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("button", { name: /^unit:/ })).toHaveText(before);

  // Where there is no evidence somebody chooses the value, and sees the effect first.
  await page.getByRole("button", { name: /^purpose:/ }).click();
  const next = page.getByRole("region", { name: "Set next" });
  await next.getByRole("button", { name: "Review" }).first().click();
  await expect(next.getByRole("button", { name: /^Set/ })).toHaveCount(0);
  await next.getByLabel(/^The purpose of all of them is/).selectOption("Records");
  await expect(next.getByRole("button", { name: /^Set “Records” for \d+ sites$/ })).toBeVisible();
  await isAccessible(page);
});

test("both claims of sources that disagree are shown with times, and a decision holds until a source reports something new", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/classification");
  await page
    .getByText(/^Sources disagree about/)
    .getByRole("link")
    .click();
  await page.getByRole("grid").getByRole("link", { name: "Holm contract room" }).click();
  const said = page.getByRole("region", { name: "Sources disagree" });
  await expect(said.getByText("Unit: not settled")).toBeVisible();
  await expect(said.getByRole("listitem").filter({ hasText: "Dredging reported by Slipway" }).last()).toContainText(
    "applies",
  );
  await isAccessible(page);
  await said
    .getByRole("listitem")
    .filter({ hasText: "Dredging reported by Slipway" })
    .last()
    .getByRole("button")
    .click();
  await expect(said.getByText(/^set here by Nora Bell, since/)).toBeVisible();
  await expect(said.getByText("Unit: not settled")).toBeHidden();
  await isAccessible(page);
  await said.getByRole("button", { name: "Undo" }).click();
  await expect(said.getByText("Unit: not settled")).toBeVisible();
});
