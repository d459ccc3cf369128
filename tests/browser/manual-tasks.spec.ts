import type { Page } from "@playwright/test";
import { expect, isAccessible, signIn, test } from "./harbour";

const head = "key,name,address,unit,classification,status,owners,editors,viewers\n";
const folder = (viewers: string) =>
  `fs-01,Tide tables before 2015,foreshore.merrowby.example/tides,VTS,Guarded,published,h.nair@merrowby.example,-,${viewers}\n`;
const png = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==",
  "base64",
);

const become = async (page: Page, who: string, to: string) => {
  await page.context().clearCookies();
  await signIn(page, who, to);
};

test("a change at a host without a connector becomes a task for a person, is returned if the list disagrees, and is verified", async ({
  page,
}) => {
  // The plan of an import is shown first.
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("region", { name: "Foreshore" }).getByRole("link", { name: "Import sites" }).click();
  const take = async (list: string, outcome: RegExp) => {
    await page
      .getByLabel("File", { exact: true })
      .setInputFiles({ name: "list.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
    await page.getByLabel(/^The list is complete/).uncheck();
    await page.getByRole("button", { name: "Show the plan" }).click();
    await expect(page.getByRole("region", { name: "Plan" }).getByText(outcome).first()).toBeVisible();
    await isAccessible(page);
    await page.getByRole("button", { name: "Import 1 site" }).click();
    await expect(page.getByRole("status").filter({ hasText: /^Imported\./ })).toBeVisible();
  };
  await take(head + folder("staff; anonymous"), /^1 site in the list: 0 new ones, 1 changed, 0 no longer reported\.$/);

  // The preview names the person who gets the task. A task that is created is not done.
  await page.getByRole("link", { name: "See the sites of Foreshore" }).click();
  await page.getByRole("grid").getByRole("link", { name: "Tide tables before 2015" }).click();
  await expect(page.getByText(/^Foreshore has no connector: Idris Vane gets this as a manual task/)).toBeVisible();
  await page.getByRole("button", { name: "Restrict", exact: true }).click();
  await page.getByRole("link", { name: "See the task" }).click();
  await expect(page.getByText(/^Due at the end of/)).toBeVisible();
  await isAccessible(page);
  const hostChange = new URL(page.url()).pathname;

  // Idris Vane finds the task on Your sites, does it, and adds a picture.
  await become(page, "i.vane", "/your-sites");
  await page.getByRole("link", { name: "Change who has access: Tide tables before 2015" }).click();
  await expect(page.getByText("Go to the folder of fs-01 (Tide tables before 2015).")).toBeVisible();
  await page.getByRole("button", { name: "Report it done" }).click();
  await expect(page.getByText("Describe what you did and how it can be checked, or add a picture.")).toBeVisible();
  await page
    .getByLabel("A picture of the result")
    .setInputFiles({ name: "door.png", mimeType: "image/png", buffer: png });
  await expect(page.getByRole("img", { name: "The result" })).toBeVisible();
  await page.getByLabel("What you did").fill("Took anonymous visitors out of access.txt.");
  await page.getByRole("button", { name: "Report it done" }).click();
  await expect(page.getByText(/^Reported done\./)).toBeVisible();
  await expect(page.getByText("You did it yourself")).toBeVisible();
  await isAccessible(page);

  // The next list disagrees: the task is returned to the person, with the difference.
  await become(page, "n.bell", "/sources/Foreshore/import");
  await take(
    head + folder("staff; anonymous"),
    /Idris Vane reported it done, but Anonymous visitors can still view\. The task is returned/,
  );
  await page.goto(hostChange);
  await expect(page.getByText(/reports something else: Anonymous visitors can still view\.$/)).toBeVisible();
  await page.goto("/desk");
  await expect(page.getByText("returned, because the result was not as wanted")).toBeVisible();
  await isAccessible(page);

  // Done again, and confirmed by a second person.
  await become(page, "i.vane", hostChange);
  await page.getByLabel("What you did").fill("Now really.");
  await page.getByRole("button", { name: "Report it done" }).click();
  await expect(page.getByText(/^Reported done\./)).toBeVisible();
  await become(page, "n.bell", hostChange);
  await page.getByRole("button", { name: "Confirm the result" }).click();
  await expect(page.getByText("Done, and Nora Bell checked it.")).toBeVisible();
  await isAccessible(page);
});

test("a manual procedure is written for a new host, and each missing part is named", async ({ page }) => {
  await signIn(page, "n.bell", "/sources");
  await page.getByRole("link", { name: "Add a host without a connector" }).click();
  await page.getByLabel("The host's name").fill("Slipway");
  await page.getByLabel("Steps: move to the attic").fill("");
  await page.getByRole("button", { name: "Save the procedure" }).click();
  await expect(page.getByRole("alert")).toContainText("Slipway has a connector, so it needs no manual procedure.");
  await expect(page.getByRole("alert")).toContainText("Describe the steps for moving to the attic");
  await isAccessible(page);
  await page.getByLabel("The host's name").fill("Old intranet");
  await page.getByLabel("Steps: move to the attic").fill("Shut {site}.");
  await page.getByRole("button", { name: "Save the procedure" }).click();
  const region = page.getByRole("region", { name: "Old intranet" });
  await expect(region.getByText("No list has been imported yet.")).toBeVisible();
  await region.getByRole("link", { name: "Manual procedure" }).click();
  await expect(page.getByLabel("Steps: move to the attic")).toHaveValue("Shut {site}.");
});
