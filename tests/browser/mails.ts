import { expect, type Page } from "@playwright/test";

const mailbox = process.env.ATTIC_MAIL_URL ?? "";

interface Mail {
  id: string;
  subject: string;
  text: string;
  html: string;
}

/** The latest mail to somebody whose subject or text matches, once it has arrived. */
export async function mailTo(who: string, about: RegExp): Promise<Mail> {
  let found: Mail | undefined;
  await expect
    .poll(
      async () => {
        const answer = await fetch(`${mailbox}/mails?to=${encodeURIComponent(`${who}@merrowby.example`)}`);
        found = ((await answer.json()) as Mail[]).find((mail) => about.test(mail.subject) || about.test(mail.text));
        return found !== undefined;
      },
      { message: `a mail to ${who} about ${about.source}` },
    )
    .toBe(true);
  if (!found) throw new Error("No such mail.");
  return found;
}

/** The link with this label in a mail, as a path. */
export function linkIn(mail: Mail, label: RegExp): string {
  const line = mail.text.split("\n").find((one) => label.test(one) && one.includes("http"));
  const url = /https?:\/\/\S+/.exec(line ?? "")?.[0];
  if (!url) throw new Error(`There is no link "${label.source}" in the mail:\n${mail.text}`);
  return new URL(url).pathname;
}

export const firstPassword = "seven grey herons";

/** Chooses a first password through the mail's link and signs in with it. */
export async function signInForTheFirstTime(page: Page, who: string, mail: Mail) {
  await page.goto(linkIn(mail, /Choose a password/));
  await page.getByLabel("Password", { exact: true }).fill(firstPassword);
  await page.getByLabel("Repeat the password").fill(firstPassword);
  await page.getByRole("button", { name: "Set the password" }).click();
  await page.getByRole("link", { name: "Sign in" }).click();
  await page.getByLabel("Mail address").fill(`${who}@merrowby.example`);
  await page.getByLabel("Password", { exact: true }).fill(firstPassword);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your sites" })).toBeVisible();
}
