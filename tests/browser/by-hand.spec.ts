import type { Page } from "@playwright/test";
import { expect, isAccessible, signIn, test } from "./harbour";

const head = "key,name,address,unit,class,stage,owners,editors,viewers\n";
const doors = (viewers: string) =>
  `fs-01,Tide tables before 2015,foreshore.merrowby.example/tides,VTS,Guarded,live,h.nair@merrowby.example,-,${viewers}\n`;
const png = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

const become = async (page: Page, who: string, to: string) => {
  await page.context().clearCookies();
  await signIn(page, who, to);
};

test("what is asked of a host without a writer goes to a person, comes back if it is not so, and is seen", async ({
  page,
}) => {
  // A list says first what it would come to.
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("region", { name: "Foreshore" }).getByRole("link", { name: "Take in a list" }).click();
  const take = async (list: string, outcome: RegExp) => {
    await page
      .getByLabel("The list", { exact: true })
      .setInputFiles({ name: "list.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
    await page.getByLabel("It names all sites there are").uncheck();
    await page.getByRole("button", { name: "See what it would come to" }).click();
    await expect(page.getByRole("region", { name: "What it would come to" }).getByText(outcome).first()).toBeVisible();
    await isAccessible(page);
    await page.getByRole("button", { name: "Take in 1 site" }).click();
    await expect(page.getByText("Taken in.")).toBeVisible();
  };
  await take(head + doors("staff; passers-by"), /^1 site in the list: 0 new ones, 1 changed, 0 vanished\.$/);

  // The preview says who gets it to do; asked is not done.
  await page.getByRole("link", { name: "See the sites of Foreshore" }).click();
  await page.getByRole("grid").getByRole("link", { name: "Tide tables before 2015" }).click();
  await expect(page.getByText(/^Foreshore has no writer: Idris Vane gets this to do by hand/)).toBeVisible();
  await page.getByRole("button", { name: /^Narrow/ }).click();
  await page.getByRole("link", { name: "Look at it" }).click();
  await expect(page.getByText(/^To be done by the end of/)).toBeVisible();
  await isAccessible(page);
  const order = new URL(page.url()).pathname;

  // Idris Vane finds it among his sites, does it, and shows it.
  await become(page, "i.vane", "/yours");
  await page.getByRole("link", { name: "Change who is let in: Tide tables before 2015" }).click();
  await expect(page.getByText("Go to the folder of fs-01 (Tide tables before 2015).")).toBeVisible();
  await page.getByRole("button", { name: "It is done" }).click();
  await expect(page.getByText("Say what you did and how it can be seen, or add a picture.")).toBeVisible();
  await page.getByLabel("A picture of it").setInputFiles({ name: "door.png", mimeType: "image/png", buffer: png });
  await expect(page.getByRole("img", { name: "What shows that it is done" })).toBeVisible();
  await page.getByLabel("What you did").fill("Took passers-by out of access.txt.");
  await page.getByRole("button", { name: "It is done" }).click();
  await expect(page.getByText(/^Said to be done\./)).toBeVisible();
  await expect(page.getByText("You did it yourself")).toBeVisible();
  await isAccessible(page);

  // The next list disagrees: back to the person, with the difference.
  await become(page, "n.bell", "/sources/Foreshore/list");
  await take(
    head + doors("staff; passers-by"),
    /Idris Vane said that it is done, and Passers-by can still view\. It goes back/,
  );
  await page.goto(order);
  await expect(page.getByText(/says otherwise: Passers-by can still view\.$/)).toBeVisible();
  await page.goto("/desk");
  await expect(page.getByText("it came back, because it was not so")).toBeVisible();
  await isAccessible(page);

  // Done again, and seen by a second person.
  await become(page, "i.vane", order);
  await page.getByLabel("What you did").fill("Now really.");
  await page.getByRole("button", { name: "It is done" }).click();
  await expect(page.getByText(/^Said to be done\./)).toBeVisible();
  await become(page, "n.bell", order);
  await page.getByRole("button", { name: "I looked: it is so" }).click();
  await expect(page.getByText("Done, and Nora Bell saw it.")).toBeVisible();
  await isAccessible(page);
});

test("how a host is worked by hand is written down, and what is missing is said", async ({ page }) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "Add a host kept by hand" }).click();
  await page.getByLabel("The host's name").fill("Slipway");
  await page.getByLabel("Steps: put away").fill("");
  await page.getByRole("button", { name: "Keep it so" }).click();
  await expect(page.getByRole("alert")).toContainText("Slipway is connected: it is read and written by itself.");
  await expect(page.getByRole("alert")).toContainText("Write down the steps for putting away");
  await isAccessible(page);
  await page.getByLabel("The host's name").fill("Old intranet");
  await page.getByLabel("Steps: put away").fill("Shut {site}.");
  await page.getByRole("button", { name: "Keep it so" }).click();
  const region = page.getByRole("region", { name: "Old intranet" });
  await expect(region.getByText("No list has been taken in yet.")).toBeVisible();
  await region.getByRole("link", { name: "How it is worked" }).click();
  await expect(page.getByLabel("Steps: put away")).toHaveValue("Shut {site}.");
});
