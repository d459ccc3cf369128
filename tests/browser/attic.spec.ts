import { expect, isAccessible, signIn, test, visit } from "./harbour";
import { linkIn, mailTo } from "./mails";

test("an owner deletes the wrong site; the administrator is told, restores it, and it is exactly as before", async ({
  page,
  browser,
}) => {
  await signIn(page, "i.vane", "/your-sites");
  await isAccessible(page);
  const site = page.getByRole("listitem").filter({ hasText: "slipway.example/licensing-news" });
  await site.getByRole("link", { name: "Move to the attic …" }).click();
  await expect(page.getByText("Is this the right site?")).toBeVisible();
  await expect(page.getByText(/Licensing news \(slipway.example\/licensing-notes\)/)).toBeVisible();
  await expect(page.getByText(/It can be restored until the end of .* when Slipway empties its bin/)).toBeVisible();
  await isAccessible(page);
  const move = page.getByRole("button", { name: "Move it to the attic in an hour" });
  await expect(move).toBeDisabled();
  await page.getByLabel("The site's name").fill("Licensing news (copy)");
  await move.click();
  await expect(page.getByText(/unless somebody stops it/)).toBeVisible();

  // The owner stops it through the mail, and then does it after all.
  const mail = await mailTo("i.vane", /You are moving Licensing news/);
  await page.goto(linkIn(mail, /stop it/));
  await page.getByRole("button", { name: "Continue" }).click();
  await page.getByRole("button", { name: "Stop the move to the attic" }).click();
  await expect(site.getByRole("link", { name: "Move to the attic …" })).toBeVisible();
  await site.getByRole("link", { name: "Move to the attic …" }).click();
  await page.getByLabel("The site's name").fill("Licensing news (copy)");
  await page.getByLabel("Reason (optional)").fill("not needed");
  await move.click();
  await expect(page.getByText(/unless somebody stops it/)).toBeVisible();

  // An hour passes.
  const bell = await (await browser.newContext()).newPage();
  await signIn(bell, "n.bell", "/demo-clock");
  await bell.getByRole("button", { name: "one hour" }).click();
  await expect(bell.getByText(/fell due/)).toBeVisible();
  await page.goto("/your-sites");
  const inAttic = page.getByRole("region", { name: "In the attic" });
  await expect(inAttic).toContainText("slipway.example/licensing-news");
  await expect(inAttic.getByRole("listitem").filter({ hasText: "licensing-news" })).toContainText("in the attic");

  // Those who could view it find a page that explains, everybody else nothing.
  expect(await visit("licensing-news", "r.quist@merrowby.example")).toBe(410);
  expect(await visit("licensing-news")).toBe(404);

  // The administrator sees it on the desk, and had a mail at once.
  await mailTo("n.bell", /Licensing news \(copy\) will be moved to the attic/);
  await bell.getByRole("link", { name: "Desk" }).click();
  const moved = bell.getByRole("listitem").filter({ hasText: "Licensing news (copy)" });
  await expect(moved).toContainText("Idris Vane moved Licensing news (copy)");
  await moved.getByRole("link", { name: "Review and restore" }).click();
  const margin = bell.getByRole("complementary", { name: "Details" });
  await expect(margin).toContainText("Idris Vane, its owner, moved it to the attic");
  await expect(margin).toContainText("It is restored as it was.");
  await isAccessible(bell);
  await margin.getByRole("button", { name: "Restore it" }).click();
  await expect(margin).toContainText("It is exactly as it was before");
  expect(await visit("licensing-news", "r.quist@merrowby.example")).toBe(200);
  await bell.context().close();
});

test("a site whose owner has left is restored with a new owner, and with no more access than policy allows now", async ({
  page,
}) => {
  expect(await visit("ladder-photos")).toBe(410);
  await signIn(page, "n.bell", "/attic");
  await page.getByRole("row", { name: /Pilot ladder photos/ }).click();
  const margin = page.getByRole("complementary", { name: "Details" });
  await expect(margin).toContainText("The site has no active owner. Choose a new owner first.");
  await expect(margin.getByRole("button", { name: "Restore it" })).toBeDisabled();
  await margin.getByLabel("Another person").fill("r.quist@");
  await margin.getByRole("radio", { name: /Renata Quist/ }).check();
  await expect(margin).toContainText("It is restored with no more access than policy allows now:");
  await expect(margin).toContainText("Anonymous visitors: view becomes nothing");
  await expect(margin).toContainText("Petra Lund: own becomes nothing");
  await isAccessible(page);
  await margin.getByRole("button", { name: "Restore it" }).click();
  await expect(margin).toContainText("It is as it was before, except for the intended changes");
  expect(await visit("ladder-photos")).toBe(404);
  expect(await visit("ladder-photos", "r.quist@merrowby.example")).toBe(200);
});

test("a site whose address is taken by now is restored at a free one", async ({ page }) => {
  await signIn(page, "t.aske", "/attic");
  await page.getByRole("row", { name: /Tug crew rota \(old\)/ }).click();
  const margin = page.getByRole("complementary", { name: "Details" });
  await expect(margin.getByRole("button", { name: "Restore it" })).toBeDisabled();
  await margin.getByLabel(/Another site uses its address/).selectOption("slipway.example/tug-crew-rota-tug");
  await margin.getByRole("button", { name: "Restore it" }).click();
  await expect(margin).toContainText(
    "address: slipway.example/tug-crew-rota before, slipway.example/tug-crew-rota-tug now (intended)",
  );
  expect(await visit("tug-crew-rota-tug", "k.brandt@merrowby.example")).toBe(200);
});

test("a site of the whole organisation takes two people to move, blockers are listed in order, a hold keeps a site", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell", "/?filter=name%20eq%20%22Cruise%20arrivals%22");
  const margin = page.getByRole("complementary", { name: "Details" });
  await margin.getByRole("link", { name: "Move to the attic …" }).click();
  await expect(page.getByText(/The web domain arrivals.merrowby.example shows this site/)).toBeVisible();

  await page.goto("/?filter=name%20eq%20%22VTS%20shift%20handbook%22");
  await margin.getByRole("link", { name: "Move to the attic …" }).click();
  await expect(page.getByText(/Buoy tender diary is below this site/)).toBeVisible();

  // A hold blocks it. Once the hold is released, it can be moved, with a second person.
  await page.goto("/?filter=name%20eq%20%22Buoy%20tender%20diary%22");
  await margin.getByRole("link", { name: "Move to the attic …" }).click();
  await page.getByRole("button", { name: "Hold …" }).click();
  await page.getByLabel("Reason why it must not be erased").fill("Inquiry 14");
  await expect(page.getByText("Until the hold ends, the site cannot be moved to the attic.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Place the hold" }).click();
  await expect(page.getByText(/A hold blocks it: Inquiry 14/)).toBeVisible();
  await page.getByRole("button", { name: "Release it …" }).click();
  await page.getByLabel("Reason for the release").fill("The inquiry is closed");
  await page.getByRole("button", { name: "Release the hold" }).click();
  await expect(page.getByRole("heading", { name: "A second person has to agree" })).toBeVisible();
  await page.getByLabel("The site's name").fill("Buoy tender diary");
  await page.getByRole("button", { name: "Ask a second person" }).click();
  await expect(page.getByText("You made this request")).toBeVisible();

  const aske = await (await browser.newContext()).newPage();
  await signIn(aske, "t.aske", "/desk");
  await aske
    .getByRole("listitem")
    .filter({ hasText: "Buoy tender diary" })
    .getByRole("link", { name: "Review and answer" })
    .click();
  await aske.getByRole("button", { name: "Agree and carry it out" }).click();
  await expect(aske.getByText("A second person agreed; it is done.")).toBeVisible();
  await aske.goto("/attic");
  await expect(aske.getByRole("row", { name: /Buoy tender diary/ })).toBeVisible();
  await aske.context().close();
});

test("a site and the one below it move to the attic together, one after the other, and come back together", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell", "/?filter=name%20eq%20%22Dry%20dock%20handbook%22");
  const margin = page.getByRole("complementary", { name: "Details" });
  await margin.getByRole("link", { name: "Move to the attic …" }).click();
  await expect(page.getByText(/Paint shop handbook is below this site/)).toBeVisible();
  await page.getByRole("button", { name: "Move it together with 1 site below it …" }).click();
  await page.getByLabel("How many sites").fill("2");
  await isAccessible(page);
  await page.getByRole("button", { name: "Move 2 sites to the attic" }).click();

  // Others use both, so a second person agrees to each; the one above waits until the one below is gone.
  const aske = await (await browser.newContext()).newPage();
  await signIn(aske, "t.aske", "/desk");
  const agree = async (title: string) => {
    await aske.goto("/desk");
    const asked = aske.getByRole("listitem").filter({ hasText: title });
    await asked.getByRole("link", { name: "Review and answer" }).click();
    await aske.getByRole("button", { name: "Agree and carry it out" }).click();
    await expect(aske.getByText("A second person agreed; it is done.")).toBeVisible();
  };
  const state = (title: string) => page.getByRole("row", { name: new RegExp(title) });
  await expect(state("Paint shop handbook")).toContainText("waits for a second person");
  await expect(state("Dry dock handbook")).toContainText("queued");
  await agree("Paint shop handbook");
  await expect(state("Dry dock handbook")).toContainText("waits for a second person");
  await agree("Dry dock handbook");
  await expect(page.getByRole("button", { name: "2 done" })).toBeVisible();
  expect(await visit("dry-dock-handbook")).toBe(404);
  await aske.context().close();

  await page.getByRole("button", { name: /^Undo/ }).click();
  await page.getByRole("button", { name: "Restore 2 sites" }).click();
  await expect(page.getByRole("button", { name: "2 done" })).toBeVisible();
  await page.goto("/?filter=name%20eq%20%22Dry%20dock%20handbook%22");
  await expect(page.getByRole("grid", { name: "Sites" }).getByRole("row", { name: /Dry dock handbook/ })).toBeVisible();
});

test("owners work on a phone: their sites, an offer, and restoring", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, "i.vane", "/your-sites");
  await isAccessible(page);
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(390);
  await page
    .getByText(/in the attic; can be restored for/)
    .first()
    .click();
  await expect(page.getByRole("button", { name: "Restore it" }).first()).toBeVisible();
  await isAccessible(page);
});
