import { expect, isAccessible, signIn, slipwayFaults, test, visit } from "./harbour";

test("the spine: the worst line is found, explained, narrowed, proved, undone, and the journal holds", async ({
  page,
}) => {
  await signIn(page, "n.bell");
  await isAccessible(page);

  // The worst line is the first, and the margin says why.
  const worst = page.getByRole("row").nth(1);
  await expect(worst).toContainText("Tug crew rota (copy)");
  const margin = page.getByRole("complementary", { name: "Margin" });
  await expect(margin).toContainText("Passers-by can edit");
  await expect(margin).toContainText("R-02");

  // The sentence finds one that strangers read, and the address bar carries it.
  await page.getByRole("button", { name: /^Unit:/ }).click();
  await page.getByRole("button", { name: /^in Pilotage/ }).click();
  await page.getByRole("button", { name: /^Reach:/ }).click();
  await page.getByRole("button", { name: /^passers-by can read/ }).click();
  await expect(page).toHaveURL(/unit=PIL/);
  await expect(page).toHaveURL(/reach=read-passers-by/);
  await page.getByRole("row", { name: /Pilot boarding notes/ }).click();
  await expect(margin).toContainText("Passers-by get in; the house allows nobody outside");

  // Its arithmetic names every layer and all that bind.
  const table = margin.getByRole("table");
  for (const layer of [
    "The site asks for",
    "Slipway host",
    "So in fact",
    "Organisation house",
    "Pilotage house",
    "Guarded house",
  ]) {
    await expect(table.getByRole("row", { name: new RegExp(layer) })).toBeVisible();
  }
  await expect(table.getByRole("row", { name: /Guarded house/ })).toContainText("no one, binds");
  await expect(table.getByRole("row", { name: /Pilotage house/ })).toContainText("binds");

  // The visitors' front lets a passer-by in.
  expect(await visit("pilot-boarding")).toBe(200);

  // The prediction, then the deed, and its progress.
  await expect(margin).toContainText("Too wide (R-07) will clear; none opens.");
  await expect(margin).toContainText("Passers-by can no longer read");
  await margin.getByLabel("Reason, for the journal").fill("Not for strangers");
  await margin.getByRole("button", { name: "Narrow it", exact: true }).click();
  const progress = margin.getByRole("list", { name: "How far it has come" }).first();
  await expect(progress).toContainText(/asked .*sent .*confirmed .*seen \d/);
  await expect(margin).not.toContainText("Passers-by get in");
  await expect(margin).toContainText("no longer among those that the sentence finds");
  await isAccessible(page);

  // The front shuts the passer-by out and lets the staff in.
  expect(await visit("pilot-boarding")).toBe(404);
  expect(await visit("pilot-boarding", "i.vane@merrowby.example")).toBe(200);

  // Undo is a deed of its own, with its own prediction.
  await margin.getByRole("button", { name: "Undo …" }).click();
  await expect(margin).toContainText("Too wide (R-07) will open");
  await margin.getByRole("button", { name: "Ask for what was before" }).click();
  await expect(margin).toContainText("Passers-by get in; the house allows nobody outside");
  await expect(margin.getByRole("list", { name: "How far it has come" }).first()).toContainText(/seen \d/);
  expect(await visit("pilot-boarding")).toBe(200);

  // The journal has it all, and its chain is unbroken.
  await page.getByRole("link", { name: "Journal" }).click();
  await expect(page.getByText("“Not for strangers”")).toBeVisible();
  await page.getByRole("button", { name: "Check the chain" }).click();
  await expect(page.getByText(/^Unbroken: \d+ entries/)).toBeVisible();
  await isAccessible(page);
});

test("a folio shows the passage, the key holders and the site's own journal", async ({ page }) => {
  await signIn(page, "g.sollis", "/?unit=DRE&sort=title");
  await page.getByRole("link", { name: "Dredge log, north channel" }).click();
  await expect(page.getByRole("heading", { name: "Dredge log, north channel" })).toBeVisible();
  await expect(page.getByRole("img", { name: /The live copy/ })).toBeVisible();
  await expect(page.getByText("Nobody holds a key.")).toBeVisible();
  await isAccessible(page);

  // An auditor reads everything and changes nothing: there is no deed on the page.
  await expect(page.getByRole("button", { name: "Narrow it", exact: true })).toHaveCount(0);
});

test("an order that the host does not answer is tried again by itself and said to be under way", async ({ page }) => {
  await slipwayFaults("seed=3&loseBefore=100");
  try {
    await signIn(page, "n.bell", "/?filter=name%20eq%20%22Dredge%20log%2C%20north%20channel%22");
    const margin = page.getByRole("complementary", { name: "Margin" });
    await margin.getByRole("button", { name: "Narrow it", exact: true }).click();
    await expect(margin).toContainText("not yet confirmed");
    await expect(margin).toContainText(/Tried \d+ times; tried again by itself/);
    await expect(page.getByRole("row", { name: /Dredge log/ })).toContainText("under way");
    await slipwayFaults("seed=3");
    await expect(margin.getByRole("list", { name: "How far it has come" }).first()).toContainText(/seen \d/);
  } finally {
    await slipwayFaults("seed=3");
  }
});
