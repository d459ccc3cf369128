import type { Browser } from "@playwright/test";
import { expect, isAccessible, signIn, test } from "./harbour";
import { firstPassword, linkIn, mailTo, signInForTheFirstTime } from "./mails";

const newPage = async (browser: Browser) => (await browser.newContext()).newPage();

test("somebody who is leaving hands a site over to a person who reads the mail, signs in for the first time and accepts", async ({
  page,
  browser,
}) => {
  // The administrator asks the owner who is leaving, because only an owner can offer the site.
  await signIn(page, "n.bell", "/owners");
  await expect(page.getByRole("row", { name: /Night pilots slipway/ })).toContainText("Ottoline Farrow");
  await isAccessible(page);
  await page
    .getByRole("row", { name: /Night pilots slipway/ })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await expect(page.getByText("Only an owner can hand the site over:")).toBeVisible();
  await page.getByRole("button", { name: "Ask the owners by mail" }).click();
  await expect(page.getByText("The mail to the owners is on its way.")).toBeVisible();

  // The owner signs in for the first time through the mail, and offers it to somebody whom the evidence suggests.
  const farrow = await newPage(browser);
  const asked = await mailTo("o.farrow", /Who will own Night pilots/);
  await signInForTheFirstTime(farrow, "o.farrow", asked);
  await farrow.goto(linkIn(asked, /Open your sites/));
  await farrow.getByRole("button", { name: "Continue" }).click();
  const site = farrow.getByRole("listitem").filter({ hasText: "slipway.example/night-pilots" });
  await site.getByRole("link", { name: "Hand over …" }).click();
  await expect(farrow.getByText(/edited it \d+ times?|no recent edits/).first()).toBeVisible();

  // Somebody who has left is listed, without the day they left: this owner may not see that.
  await farrow.getByLabel("Another person").fill("Petra Lund");
  await expect(farrow.getByText("Not possible: is not eligible")).toBeVisible();
  await farrow.getByLabel("Another person").fill("r.quist@");
  await farrow.getByRole("radio", { name: /Renata Quist/ }).check();
  await farrow.getByLabel(/I leave/).check();
  await expect(farrow.getByText("Renata Quist: nothing becomes own")).toBeVisible();
  await isAccessible(farrow);

  // A wrong password is refused, and what was chosen stays.
  await farrow.getByLabel(/Your password/).fill("not mine");
  await farrow.getByRole("button", { name: "Offer it to Renata Quist" }).click();
  await expect(farrow.getByRole("alert")).toHaveText("The password is wrong. Enter the password of your account.");
  await farrow.getByLabel(/Your password/).fill(firstPassword);
  await farrow.getByRole("button", { name: "Offer it to Renata Quist" }).click();
  await expect(farrow.getByText(/It lapses at the end of/)).toBeVisible();

  // The recipient has never signed in either.
  const quist = await newPage(browser);
  const offered = await mailTo("r.quist", /Night pilots is offered to you/);
  await signInForTheFirstTime(quist, "r.quist", offered);
  await expect(quist.getByRole("region", { name: "Offered to you" })).toContainText("Night pilots");

  // A mail scanner that follows the link changes nothing.
  const offerLink = linkIn(offered, /answer it/);
  for (let times = 0; times < 3; times++) await fetch(new URL(offerLink, page.url()));
  await quist.goto(offerLink);
  await quist.getByRole("button", { name: "Continue" }).click();
  await expect(quist.getByText("Ottoline Farrow: own becomes nothing")).toBeVisible();
  await isAccessible(quist);
  await quist.getByRole("button", { name: "Accept ownership" }).click();
  await expect(quist.getByText("Renata Quist is an owner.")).toBeVisible();
  await expect(quist.getByRole("list", { name: "Progress" })).not.toContainText("not yet");
  await expect(quist.getByText("Ottoline Farrow: own before, nothing after.")).toBeVisible();

  // Both get the receipt by mail, and the former owner no longer has the site.
  await mailTo("o.farrow", /Night pilots is handed over/);
  await farrow.goto("/your-sites");
  await expect(farrow.getByRole("region", { name: "In use" }).getByText("slipway.example/night-pilots")).toHaveCount(0);

  // The link works once and for one person. Each refusal says so and is in the journal.
  await quist.goto(offerLink);
  await expect(quist.getByRole("alert")).toContainText("This link was used before.");
  await farrow.goto(offerLink);
  await expect(farrow.getByRole("alert")).toContainText("This link was used before.");
  await farrow.goto(`${offerLink.slice(0, -2)}xx`);
  await expect(farrow.getByRole("alert")).toContainText("This link does not exist.");
  await page.goto("/journal?action=link.refused");
  await expect(page.getByText("No such link was sent.").first()).toBeVisible();
  await isAccessible(farrow);
  await farrow.context().close();
  await quist.context().close();
});

test("a link from somebody else's mail is refused, with the remedy", async ({ page, browser }) => {
  await signIn(page, "i.vane", "/your-sites");
  await page
    .getByRole("listitem")
    .filter({ hasText: "slipway.example/pilot-exam" })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await page.getByLabel("Another person").fill("t.aske@");
  await page.getByRole("radio", { name: /Tomas Aske/ }).check();
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: "Offer it to Tomas Aske" }).click();
  await expect(page.getByText(/It lapses at the end of/)).toBeVisible();
  const link = linkIn(await mailTo("t.aske", /Pilot exam bank is offered/), /answer it/);

  const other = await newPage(browser);
  await signIn(other, "n.bell", "/your-sites");
  await other.goto(link);
  await other.getByRole("button", { name: "Continue" }).click();
  await expect(other.getByRole("alert")).toContainText("This link is for another person.");
  await other.context().close();

  // The current owner withdraws the offer, and nothing has changed.
  await page.getByRole("button", { name: "Withdraw the offer" }).click();
  await expect(page.getByText("It was withdrawn. Nothing has changed.")).toBeVisible();
});

test("a site whose owner has left gets a new owner with the agreement of two administrators", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell", "/owners?state=none");
  await page
    .getByRole("row", { name: /Storm desk 2023/ })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await expect(page.getByText("A second administrator has to agree")).toBeVisible();
  await page.getByLabel("Another person").fill("Garrow");
  await page.getByRole("radio", { name: /Nora Garrow/ }).check();
  await expect(page.getByText("Offering the ownership of another person's site needs a reason.")).toBeVisible();
  await page.getByLabel("Reason").fill("Petra Lund left in spring");
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: "Ask a second person to assign Nora Garrow" }).click();

  // Nobody agrees to their own request.
  await expect(page.getByText("You made this request")).toBeVisible();
  await expect(page.getByRole("button", { name: "Agree and carry it out" })).toHaveCount(0);

  const aske = await newPage(browser);
  await signIn(aske, "t.aske", "/desk");
  await isAccessible(aske);
  await aske
    .getByRole("listitem")
    .filter({ hasText: "Storm desk 2023" })
    .getByRole("link", { name: "Review and answer" })
    .click();
  await expect(aske.getByText("“Petra Lund left in spring”")).toBeVisible();
  await isAccessible(aske);
  await aske.getByRole("button", { name: "Agree and carry it out" }).click();
  await expect(aske.getByText("A second person agreed; it is done.")).toBeVisible();

  const garrow = await newPage(browser);
  const mail = await mailTo("n.garrow", /Storm desk 2023 is offered to you/);
  await signInForTheFirstTime(garrow, "n.garrow", mail);
  await garrow.getByRole("link", { name: "Review and answer" }).click();
  await garrow.getByRole("button", { name: "Accept ownership" }).click();
  await expect(garrow.getByText("Nora Garrow is an owner.")).toBeVisible();
  await expect(garrow.getByText("Petra Lund: own before, nothing after.")).toBeVisible();
  await aske.context().close();
  await garrow.context().close();
});

test("the remedy of too few owners is next to the finding: another owner is asked, and the first one stays", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/owners?state=single");
  const row = page.getByRole("row").filter({ has: page.getByRole("link", { name: "Add an owner …" }) });
  const site = (await row.first().getByRole("link").first().textContent()) ?? "";
  await row.first().getByRole("link").first().click();
  await page.getByRole("link", { name: /^Add an owner … \(R-03\)/ }).click();
  await expect(page.getByRole("heading", { name: `Add an owner to ${site}` })).toBeVisible();
  await page.getByRole("radio").first().check();
  await page.getByLabel("Reason").fill("One owner is too few");
  await isAccessible(page);
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: /^Ask .* to become an owner$/ }).click();
  await expect(page.getByText(/^Nora Bell asked .* to become an owner too\.$/)).toBeVisible();
  await page.getByRole("button", { name: "Withdraw the offer" }).click();
  await expect(page.getByText("It was withdrawn. Nothing has changed.")).toBeVisible();
});
