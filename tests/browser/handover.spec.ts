import type { Browser } from "@playwright/test";
import { expect, isAccessible, signIn, test } from "./harbour";
import { firstPassword, linkIn, mailTo, signInForTheFirstTime } from "./letters";

const newPage = async (browser: Browser) => (await browser.newContext()).newPage();

test("a leaver's key goes to somebody who reads the mail, signs in for the first time and countersigns", async ({
  page,
  browser,
}) => {
  // The administrator asks the leaver, who alone can offer the key.
  await signIn(page, "n.bell", "/keys");
  await expect(page.getByRole("row", { name: /Night pilots slipway/ })).toContainText("Ottoline Farrow");
  await isAccessible(page);
  await page
    .getByRole("row", { name: /Night pilots slipway/ })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await expect(page.getByText("Only who holds a key can offer it.")).toBeVisible();
  await page.getByRole("button", { name: "Ask by mail" }).click();
  await expect(page.getByText("They are asked.")).toBeVisible();

  // The leaver comes through the mail for the first time, and offers it by evidence.
  const farrow = await newPage(browser);
  const asked = await mailTo("o.farrow", /Who takes the key of Night pilots/);
  await signInForTheFirstTime(farrow, "o.farrow", asked);
  await farrow.goto(linkIn(asked, /Look at your sites/));
  await farrow.getByRole("button", { name: "Go on" }).click();
  const site = farrow.getByRole("listitem").filter({ hasText: "slipway.example/night-pilots" });
  await site.getByRole("link", { name: "Hand over …" }).click();
  await expect(farrow.getByText(/saved it \d+ times?|did not edit it lately/).first()).toBeVisible();

  // Somebody who has left is shown; when they did is not told to whoever does not decide on it.
  await farrow.getByLabel("Somebody else").fill("Petra Lund");
  await expect(farrow.getByText("Cannot: is not eligible")).toBeVisible();
  await farrow.getByLabel("Somebody else").fill("r.quist@");
  await farrow.getByRole("radio", { name: /Renata Quist/ }).check();
  await farrow.getByLabel(/I leave/).check();
  await expect(farrow.getByText("Renata Quist: nothing becomes own")).toBeVisible();
  await isAccessible(farrow);

  // A wrong password does not confirm who it is; what was chosen stays.
  await farrow.getByLabel(/Your password/).fill("not mine");
  await farrow.getByRole("button", { name: "Offer it to Renata Quist" }).click();
  await expect(farrow.getByRole("alert")).toHaveText("The password is not right. Type the one you sign in with.");
  await farrow.getByLabel(/Your password/).fill(firstPassword);
  await farrow.getByRole("button", { name: "Offer it to Renata Quist" }).click();
  await expect(farrow.getByText(/It can be answered through/)).toBeVisible();

  // The recipient has never been here either.
  const quist = await newPage(browser);
  const offered = await mailTo("r.quist", /The key of Night pilots is offered to you/);
  await signInForTheFirstTime(quist, "r.quist", offered);
  await expect(quist.getByRole("region", { name: "Offered to you" })).toContainText("Night pilots");

  // A scanner that follows the link changes nothing.
  const offerLink = linkIn(offered, /answer it/);
  for (let times = 0; times < 3; times++) await fetch(new URL(offerLink, page.url()));
  await quist.goto(offerLink);
  await quist.getByRole("button", { name: "Go on" }).click();
  await expect(quist.getByText("Ottoline Farrow: own becomes nothing")).toBeVisible();
  await isAccessible(quist);
  await quist.getByRole("button", { name: "Accept the key" }).click();
  await expect(quist.getByText("Renata Quist holds the key.")).toBeVisible();
  await expect(quist.getByRole("list", { name: "How far it has come" })).not.toContainText("not yet");
  await expect(quist.getByText("Ottoline Farrow: own before, nothing after.")).toBeVisible();

  // Both have the receipt by mail, and the giver is out.
  await mailTo("o.farrow", /The key of Night pilots is handed over/);
  await farrow.goto("/yours");
  await expect(farrow.getByText("slipway.example/night-pilots")).toHaveCount(0);

  // The link is used up, and belongs to one person; both is said and written down.
  await quist.goto(offerLink);
  await expect(quist.getByRole("alert")).toContainText("This link was used before.");
  await farrow.goto(offerLink);
  await expect(farrow.getByRole("alert")).toContainText("This link was used before.");
  await farrow.goto(`${offerLink.slice(0, -2)}xx`);
  await expect(farrow.getByRole("alert")).toContainText("There is no such link.");
  await page.goto("/journal?deed=link.refused");
  await expect(page.getByText("No such link was sent.").first()).toBeVisible();
  await isAccessible(farrow);
  await farrow.context().close();
  await quist.context().close();
});

test("a link from somebody else's mail is refused, with the remedy", async ({ page, browser }) => {
  await signIn(page, "i.vane", "/yours");
  await page
    .getByRole("listitem")
    .filter({ hasText: "slipway.example/pilot-exam" })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await page.getByLabel("Somebody else").fill("t.aske@");
  await page.getByRole("radio", { name: /Tomas Aske/ }).check();
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: "Offer it to Tomas Aske" }).click();
  await expect(page.getByText(/It can be answered through/)).toBeVisible();
  const link = linkIn(await mailTo("t.aske", /The key of Pilot exam bank is offered/), /answer it/);

  const other = await newPage(browser);
  await signIn(other, "n.bell", "/yours");
  await other.goto(link);
  await other.getByRole("button", { name: "Go on" }).click();
  await expect(other.getByRole("alert")).toContainText("This link was sent to somebody else.");
  await other.context().close();

  // The giver thinks better of it; the recipient finds that out and nothing has changed.
  await page.getByRole("button", { name: "Take the offer back" }).click();
  await expect(page.getByText("It was taken back. Nothing has changed.")).toBeVisible();
});

test("the key of somebody who has left is given by two administrators", async ({ page, browser }) => {
  await signIn(page, "n.bell", "/keys?state=none");
  await page
    .getByRole("row", { name: /Storm desk 2023/ })
    .getByRole("link", { name: "Hand over …" })
    .click();
  await expect(page.getByText("a second administrator has to agree")).toBeVisible();
  await page.getByLabel("Somebody else").fill("Garrow");
  await page.getByRole("radio", { name: /Nora Garrow/ }).check();
  await expect(page.getByText("Giving a key in the place of its holder needs a reason.")).toBeVisible();
  await page.getByLabel("Reason").fill("Petra Lund left in spring");
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: "Ask a second person to give it to Nora Garrow" }).click();

  // Nobody agrees to what they asked for.
  await expect(page.getByText("You asked for it yourself")).toBeVisible();
  await expect(page.getByRole("button", { name: "Agree: do it" })).toHaveCount(0);

  const aske = await newPage(browser);
  await signIn(aske, "t.aske", "/desk");
  await isAccessible(aske);
  await aske
    .getByRole("listitem")
    .filter({ hasText: "Storm desk 2023" })
    .getByRole("link", { name: "Look and answer" })
    .click();
  await expect(aske.getByText("“Petra Lund left in spring”")).toBeVisible();
  await isAccessible(aske);
  await aske.getByRole("button", { name: "Agree: do it" }).click();
  await expect(aske.getByText("A second person agreed; it is done.")).toBeVisible();

  const garrow = await newPage(browser);
  const mail = await mailTo("n.garrow", /The key of Storm desk 2023 is offered to you/);
  await signInForTheFirstTime(garrow, "n.garrow", mail);
  await garrow.getByRole("link", { name: "Look and answer" }).click();
  await garrow.getByRole("button", { name: "Accept the key" }).click();
  await expect(garrow.getByText("Nora Garrow holds the key.")).toBeVisible();
  await expect(garrow.getByText("Petra Lund: own before, nothing after.")).toBeVisible();
  await aske.context().close();
  await garrow.context().close();
});
