import { expect, isAccessible, signIn, test, visit } from "./harbour";
import { linkIn, mailTo } from "./letters";

test("an owner deletes the wrong site; the administrator hears of it, brings it back, and it came back as it went", async ({
  page,
  browser,
}) => {
  await signIn(page, "i.vane", "/yours");
  await isAccessible(page);
  const site = page.getByRole("listitem").filter({ hasText: "slipway.example/licensing-news" });
  await site.getByRole("link", { name: "Put away …" }).click();
  await expect(page.getByText("Is it the right one?")).toBeVisible();
  await expect(page.getByText(/Licensing news \(slipway.example\/licensing-notes\)/)).toBeVisible();
  await expect(page.getByText(/It can be brought back through .* because Slipway clears its bin then/)).toBeVisible();
  await isAccessible(page);
  const put = page.getByRole("button", { name: "Put it away in an hour" });
  await expect(put).toBeDisabled();
  await page.getByLabel("The site's name").fill("Licensing news (copy)");
  await put.click();
  await expect(page.getByText(/unless it is stopped/)).toBeVisible();

  // Second thoughts, through the mail; then it is done all the same.
  const mail = await mailTo("i.vane", /You are putting away Licensing news/);
  await page.goto(linkIn(mail, /stop it/));
  await page.getByRole("button", { name: "Go on" }).click();
  await page.getByRole("button", { name: "Stop it: leave the site in use" }).click();
  await expect(site.getByRole("link", { name: "Put away …" })).toBeVisible();
  await site.getByRole("link", { name: "Put away …" }).click();
  await page.getByLabel("The site's name").fill("Licensing news (copy)");
  await page.getByLabel("Reason (if you like)").fill("not needed");
  await put.click();
  await expect(page.getByText(/unless it is stopped/)).toBeVisible();

  // An hour passes.
  const bell = await (await browser.newContext()).newPage();
  await signIn(bell, "n.bell", "/demo-clock");
  await bell.getByRole("button", { name: "one hour" }).click();
  await expect(bell.getByText(/fell due/)).toBeVisible();
  await page.goto("/yours");
  const away = page.getByRole("region", { name: "In the attic" });
  await expect(away).toContainText("slipway.example/licensing-news");
  await expect(away.getByRole("listitem").filter({ hasText: "licensing-news" })).toContainText("in the attic");

  // Those who could read it find a kind page, everybody else nothing.
  expect(await visit("licensing-news", "r.quist@merrowby.example")).toBe(410);
  expect(await visit("licensing-news")).toBe(404);

  // The administrator hears of it on the desk and, next morning, by mail.
  await bell.getByRole("link", { name: "Desk" }).click();
  const heard = bell.getByRole("listitem").filter({ hasText: "Licensing news (copy)" });
  await expect(heard).toContainText("Idris Vane put away Licensing news (copy)");
  await heard.getByRole("link", { name: "Look, bring back" }).click();
  const margin = bell.getByRole("complementary", { name: "Margin" });
  await expect(margin).toContainText("Idris Vane, its owner, put it away");
  await expect(margin).toContainText("It comes back as it went.");
  await isAccessible(bell);
  await margin.getByRole("button", { name: "Bring it back" }).click();
  await expect(margin).toContainText("It came back exactly as it went");
  expect(await visit("licensing-news", "r.quist@merrowby.example")).toBe(200);
  await bell.goto("/demo-clock");
  await bell.getByRole("button", { name: "a day", exact: true }).click();
  await mailTo("n.bell", /Licensing news \(copy\) is put away/);
  await bell.context().close();
});

test("a site whose owner has left comes back with a new one, and no wider than is allowed now", async ({ page }) => {
  expect(await visit("ladder-photos")).toBe(410);
  await signIn(page, "n.bell", "/attic");
  await page.getByRole("row", { name: /Pilot ladder photos/ }).click();
  const margin = page.getByRole("complementary", { name: "Margin" });
  await expect(margin).toContainText("No fit owner is left");
  await expect(margin.getByRole("button", { name: "Bring it back" })).toBeDisabled();
  await margin.getByLabel("Somebody else").fill("r.quist@");
  await margin.getByRole("radio", { name: /Renata Quist/ }).check();
  await expect(margin).toContainText("It comes back no wider than is allowed now:");
  await expect(margin).toContainText("Passers-by: view becomes nothing");
  await expect(margin).toContainText("Petra Lund: own becomes nothing");
  await isAccessible(page);
  await margin.getByRole("button", { name: "Bring it back" }).click();
  await expect(margin).toContainText("It came back as it went, but for what was meant");
  expect(await visit("ladder-photos")).toBe(404);
  expect(await visit("ladder-photos", "r.quist@merrowby.example")).toBe(200);
});

test("an address that is held by now is chosen anew, from free ones", async ({ page }) => {
  await signIn(page, "t.aske", "/attic");
  await page.getByRole("row", { name: /Tug crew rota \(old\)/ }).click();
  const margin = page.getByRole("complementary", { name: "Margin" });
  await expect(margin.getByRole("button", { name: "Bring it back" })).toBeDisabled();
  await margin.getByLabel(/Its address is held/).selectOption("slipway.example/tug-crew-rota-tug");
  await margin.getByRole("button", { name: "Bring it back" }).click();
  await expect(margin).toContainText(
    "address: slipway.example/tug-crew-rota before, slipway.example/tug-crew-rota-tug now (meant)",
  );
  expect(await visit("tug-crew-rota-tug", "k.brandt@merrowby.example")).toBe(200);
});

test("what reaches the whole organisation takes two people, what blocks stands in order, a hold keeps a site", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell", "/?filter=name%20eq%20%22Cruise%20arrivals%22");
  const margin = page.getByRole("complementary", { name: "Margin" });
  await margin.getByRole("link", { name: "Put away …" }).click();
  await expect(page.getByText(/The web domain arrivals.merrowby.example shows this site/)).toBeVisible();

  await page.goto("/?filter=name%20eq%20%22VTS%20shift%20handbook%22");
  await margin.getByRole("link", { name: "Put away …" }).click();
  await expect(page.getByText(/Buoy tender diary is a child of this site/)).toBeVisible();

  // A hold forbids it; released, it can go, with a second person.
  await page.goto("/?filter=name%20eq%20%22Buoy%20tender%20diary%22");
  await margin.getByRole("link", { name: "Put away …" }).click();
  await page.getByRole("button", { name: "Hold …" }).click();
  await page.getByLabel("Why it must not be cleared").fill("Inquiry 14");
  await expect(page.getByText("While it holds, the site cannot be put away.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Place the hold" }).click();
  await expect(page.getByText(/A hold forbids it: Inquiry 14/)).toBeVisible();
  await page.getByRole("button", { name: "Release it …" }).click();
  await page.getByLabel("Why it is released").fill("The inquiry is closed");
  await page.getByRole("button", { name: "Release the hold" }).click();
  await expect(page.getByText("It takes two people")).toBeVisible();
  await page.getByLabel("The site's name").fill("Buoy tender diary");
  await page.getByRole("button", { name: "Ask a second person" }).click();
  await expect(page.getByText("You asked for it yourself")).toBeVisible();

  const aske = await (await browser.newContext()).newPage();
  await signIn(aske, "t.aske", "/desk");
  await aske
    .getByRole("listitem")
    .filter({ hasText: "Buoy tender diary" })
    .getByRole("link", { name: "Look and answer" })
    .click();
  await aske.getByRole("button", { name: "Agree: do it" }).click();
  await expect(aske.getByText("A second person agreed; it is done.")).toBeVisible();
  await aske.goto("/attic");
  await expect(aske.getByRole("row", { name: /Buoy tender diary/ })).toBeVisible();
  await aske.context().close();
});

test("owners work on a phone: their sites, an offer, the way back", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await signIn(page, "i.vane", "/yours");
  await isAccessible(page);
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(390);
  await page
    .getByText(/in the attic; can be brought back for/)
    .first()
    .click();
  await expect(page.getByRole("button", { name: "Bring it back" }).first()).toBeVisible();
  await isAccessible(page);
});
