import { expect, isAccessible, signIn, test } from "./harbour";
import { linkIn, mailTo } from "./mails";

test("a rule from tomorrow asks an owner, who answers from the mail on a phone; an administrator decides", async ({
  page,
  browser,
}) => {
  await signIn(
    page,
    "n.bell",
    `/rules?scope=${encodeURIComponent('title eq "Pilot cadets wanted"')}&demand=${encodeURIComponent("pages ge 900")}`,
  );
  const form = page.getByRole("form", { name: "Make it a rule" });
  await form.getByLabel("Title").fill("Adverts are long");
  await form.getByLabel("Short name of its findings").fill("short advert");
  await form.getByLabel("What follows from a finding").selectOption("ask-owners");
  await form.getByLabel("Days to answer").fill("2");
  await expect(form).toContainText("Owners have 3 to 90 days to answer.");
  await form.getByLabel("Days to answer").fill("6");
  const first = form.getByLabel("First day");
  const tomorrow = new Date(`${await first.inputValue()}T00:00:00Z`);
  tomorrow.setUTCDate(tomorrow.getUTCDate() + 1);
  await first.fill(tomorrow.toISOString().slice(0, 10));
  await expect(form).toContainText(/The active owners of 1 site are asked from/);
  await isAccessible(page);
  await form.getByRole("button", { name: /^Put R-\d+ in force from/ }).click();
  await expect(page.getByText("ask the owners; 6 days to answer")).toBeVisible();
  const rule = /R-\d+$/.exec(page.url())![0];

  // The day passes, and the next morning comes.
  await page.goto("/demo-clock");
  await page.getByRole("button", { name: "a day" }).click();
  await expect(page.getByText(/^Moved/)).toBeVisible();
  await page.goto("/desk");
  const found = page.getByRole("listitem").filter({ hasText: "Adverts are long" });
  await expect(found).toBeVisible();
  await page.goto("/demo-clock");
  await page.getByRole("button", { name: "one hour" }).click();
  await expect(page.getByText(/^Moved/)).toBeVisible();
  await page.goto("/desk");
  await expect(found).toContainText("The owners of 1 site were asked; no owner has answered.");
  await page.goto("/demo-clock");
  await page.getByRole("button", { name: "a day" }).click();
  await expect(page.getByText(/^Moved/)).toBeVisible();

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  const mail = await mailTo("i.vane", /short advert/);
  expect(mail.text).toContain("which breaks a rule: Adverts are long");
  await phone.goto(linkIn(mail, /Open your sites and answer/));
  await phone.getByRole("button", { name: "Continue" }).click();
  await phone.getByLabel("Mail address").fill("i.vane@merrowby.example");
  await phone.getByLabel("Password").fill("merrowby-harbour");
  await phone.getByRole("button", { name: "Sign in" }).click();
  await phone.getByRole("button", { name: "Continue" }).click();
  const site = phone.getByRole("listitem").filter({ hasText: "Pilot cadets wanted" });
  await expect(site).toContainText("Please fix it, or answer until the end of");
  await isAccessible(phone);
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await site.getByRole("button", { name: "It needs an exception …" }).click();
  await site.getByLabel("A few words for the administrator").fill("The advert is short on purpose.");
  await site.getByRole("button", { name: "Answer: it needs an exception" }).click();
  await expect(site).toContainText("Idris Vane answered");
  await phone.context().close();

  // It comes to the desk, is decided, and is gone from there.
  await page.goto("/desk");
  const answer = page.getByRole("listitem").filter({ hasText: "Pilot cadets wanted: it needs an exception" });
  await expect(answer).toContainText("“The advert is short on purpose.”");
  await answer.getByRole("link", { name: "Decide" }).click();
  const finding = page.getByRole("complementary", { name: "Details" }).locator("section").filter({ hasText: rule });
  await expect(finding).toContainText("Ask the owners again …");
  await finding.getByRole("button", { name: /^Grant an exception/ }).click();
  await finding.getByLabel(`Reason why it may break ${rule} for a while`).fill("Short on purpose");
  await finding.getByLabel("Last day").fill("2027-06-30");
  await finding.getByRole("button", { name: "Grant the exception" }).click();
  await expect(finding).toContainText("Exception until the end of 30 Jun 2027 by Nora Bell");
  await page.goto("/desk");
  await expect(page.getByRole("status").first()).toContainText("decisions");
  await expect(answer).toHaveCount(0);
});
