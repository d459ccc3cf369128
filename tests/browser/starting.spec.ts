import { expect, isAccessible, signIn, slipwayFaults, test } from "./harbour";
import { mailTo } from "./mails";
import type { Page } from "@playwright/test";

const name = (page: Page) => page.getByRole("textbox", { name: "Name", exact: true });
const verdict = (page: Page) => page.getByRole("complementary", { name: "What becomes of it" });

async function fillIn(page: Page, kind: RegExp, called: string, purpose: string, owner = "r.quist@") {
  await page.getByRole("radio", { name: kind }).check();
  await name(page).fill(called);
  await page.getByLabel("Purpose").selectOption({ label: purpose });
  await page.getByLabel("Owners", { exact: true }).fill(owner);
  await page.getByRole("button", { name: new RegExp(owner) }).click();
}

test("a noticeboard with a taken name gets another address, is granted by rule, made, and restricted from the host's default", async ({
  page,
}) => {
  await signIn(page, "i.vane", "/your-sites");
  await page.getByRole("link", { name: "Start a site" }).click();
  await expect(page.getByRole("radio", { name: /^Leaflet/ })).toBeDisabled();
  await isAccessible(page);
  await fillIn(page, /^Noticeboard/, "Pilot boarding", "Notices");
  await expect(page.getByText("pilot-boarding is taken: a site that you may not see has it.").first()).toBeVisible();
  await expect(verdict(page)).toContainText("Not yet");
  await isAccessible(page);

  // Whom they may not see, they can write to.
  await page.getByRole("button", { name: "Send the holder a message …" }).click();
  await page.getByLabel("Message to the holder").fill("May I have your address?");
  await page.getByRole("button", { name: "Send the message" }).click();
  await expect(page.getByText("Your message was sent. The answer comes by mail.")).toBeVisible();

  // What was typed is still there in another tab.
  const tab = await page.context().newPage();
  await tab.goto("/start");
  await expect(tab.getByText("What you had filled in is back.")).toBeVisible();
  await expect(name(tab)).toHaveValue("Pilot boarding");
  await tab.close();

  await page.getByRole("button", { name: "pilot-boarding-notices", exact: true }).click();
  await expect(page.getByText("slipway.example/pilot-boarding-notices is free.")).toBeVisible();
  await expect(verdict(page)).toContainText("It is granted at once");
  await expect(verdict(page)).toContainText("all of the staff");
  await page.getByRole("button", { name: "Start the site" }).click();
  await expect(page.getByRole("status")).toContainText("Ready: it is in use");
  await expect(page.getByText("Slipway gave it more access than was granted.")).toBeVisible();
  await isAccessible(page);
  await page.getByRole("link", { name: "Open the site's page" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Pilot boarding");
  await expect(page.getByText("a site was made as requested").first()).toBeVisible();
  expect((await mailTo("i.vane", /Pilot boarding is ready/)).text).toContain("slipway.example/pilot-boarding-notices");

  // The next form is empty again.
  await page.goto("/start");
  await expect(page.getByText("What you had filled in is back.")).toHaveCount(0);
});

test("a site that the rules leave to an administrator waits on the desk, and a step that fails goes on where it stopped", async ({
  page,
  browser,
}) => {
  await signIn(page, "i.vane", "/start");
  await fillIn(page, /^Pages/, "Berth holders' noticeboard", "Notices");
  await page.getByRole("radio", { name: /^anybody/ }).check();
  await expect(verdict(page)).toContainText("An administrator decides");
  await expect(verdict(page)).toContainText("More people than is usual for the purpose Notices");
  await page.getByRole("button", { name: "Ask an administrator for it" }).click();
  await expect(page.getByRole("status")).toContainText("Waits for an administrator's answer");
  await page.goto("/your-sites");
  await expect(page.getByRole("region", { name: "Asked for" })).toContainText("waits for an answer");

  const admin = await (await browser.newContext()).newPage();
  await signIn(admin, "n.bell", "/desk");
  const item = admin
    .getByRole("listitem")
    .filter({ hasText: "Idris Vane asks for a site: Berth holders' noticeboard" });
  await item.getByRole("link", { name: "Review and answer" }).click();
  await expect(admin.getByText("More people than is usual")).toBeVisible();
  await isAccessible(admin);
  await admin.getByRole("button", { name: "Refuse it" }).click();
  await expect(admin.getByRole("alert")).toContainText("Give a reason, which the requester reads.");

  // Slipway refuses every change for now.
  await slipwayFaults("seed=1&refuse=100");
  await admin.getByLabel("Reason (needed to refuse)").fill("For the season");
  await admin.getByRole("button", { name: "Grant it and make the site" }).click();
  await expect(admin.getByRole("status").first()).toContainText("Making it stopped");
  await expect(admin.getByText("Stopped because: Nothing is changed during a freeze.")).toBeVisible();
  await isAccessible(admin);
  await slipwayFaults("seed=1");
  await admin.getByRole("button", { name: "Go on where it stopped" }).click();
  await expect(admin.getByRole("status").first()).toContainText("Ready: it is in use");
  await admin.close();
  expect((await mailTo("i.vane", /Berth holders' noticeboard was granted/)).text).toContain("For the season");
});

test("an auditor starts nothing, and the finder leads others to the page", async ({ page, browser }) => {
  await signIn(page, "g.sollis", "/start");
  await expect(page.getByRole("radio", { name: /^Noticeboard/ })).toBeDisabled();
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "h.nair", "/");
  await other.keyboard.press("Control+k");
  const finder = other.getByRole("dialog", { name: "Finder" });
  await finder.getByRole("combobox").fill("new site");
  await finder.getByRole("option", { name: /^Start a site/ }).click();
  await expect(other.getByRole("heading", { level: 1 })).toHaveText("Start a site");
  await other.close();
});
