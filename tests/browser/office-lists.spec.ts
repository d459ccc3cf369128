import type { Page } from "@playwright/test";
import { expect, isAccessible, signIn, test } from "./harbour";

// Units that a list adds stay, so each run has units of its own.
const run = Date.now();
const file = (name: string, text: string) => ({ name, mimeType: "text/csv", buffer: Buffer.from(text) });
const words = (page: Page) => page.getByRole("region", { name: "Words of the list" });
const meaning = (page: Page, word: string) => words(page).getByLabel(`“${word}” means`);

test("a list of people as an office writes it: a title, totals, its own words and units", async ({ page }) => {
  await signIn(page, "n.bell", "/sources/people");
  const list = `People of the boat yard
,,,,
E-mail,Full name,Type,Dept,Last day
hanna.${run}@yard.example,"Ost, Hanna",permanent,Boat Yard ${run},
piet.${run}@yard.example,Piet Lund,permanent,boat yard ${run},31.12.2031
loft.${run}@canvas.example,Sail Loft,employee,Sail Loft ${run},
Total,3,,,
`;
  await page.getByLabel("File", { exact: true }).setInputFiles(file("yard.csv", list));
  await page.getByRole("button", { name: "Show the plan" }).click();
  await expect(page.getByText(/with the headings in line 3/)).toBeVisible();
  await expect(words(page).getByText("kind, 2 lines")).toBeVisible();
  await isAccessible(page);

  await meaning(page, "permanent").selectOption("staff");
  await expect(page.getByText(/^3 people in the list: 3 new, 0 changed\./)).toBeVisible();
  await meaning(page, `Boat Yard ${run}`).selectOption({ label: "a new unit …" });
  const code = words(page).getByLabel(`Code of the new unit Boat Yard ${run}`);
  await code.fill("boat yard");
  await words(page).getByRole("button", { name: "Add it" }).click();
  await expect(page.getByRole("alert")).toContainText("“boat yard” cannot be the code of a unit".replace(/[“”]/g, '"'));
  await meaning(page, `Boat Yard ${run}`).selectOption({ label: "a new unit …" });
  await code.fill(`BY${run.toString().slice(-6)}`);
  await words(page).getByRole("button", { name: "Add it" }).click();
  await expect(words(page).getByText(/^The import adds 1 unit: Boat Yard/)).toBeVisible();
  await meaning(page, `Sail Loft ${run}`).selectOption("-");
  await expect(page.getByText("Lines not imported, and cells not understood")).toBeHidden();
  await isAccessible(page);

  await page.getByRole("button", { name: "Import 3 people" }).click();
  await expect(page.getByText("Imported. It can be undone below.")).toBeVisible();
  await page.getByRole("button", { name: "Undo …" }).click();
  await page.getByRole("button", { name: "Undo the import" }).click();
  await expect(page.getByText(/Undone /).first()).toBeVisible();
});

test("a list of sites as an office writes it: names instead of addresses, employee, public, and words of its own", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/sources/Foreshore/import");
  const list = `Sites of the foreshore office;;;;;
;;;;;
url;title;dept;owner;editor;audience
foreshore.example/tides-${run};Tide boards ${run};VTS;"Nair, Hamish";-;employee
foreshore.example/slips-${run};Slipways ${run};Vessel traffic;h.nair@merrowby.example;-;public; partner
foreshore.example/ropes-${run};Ropes ${run};The watch;Hamish Nair;the watch room;the watch room
Sum;3;;;;
`.replace("public; partner", '"public; partner"');
  await page.getByLabel("File", { exact: true }).setInputFiles(file("foreshore.csv", list));
  await page.getByLabel(/^The list is complete/).uncheck();
  await page.getByRole("button", { name: "Show the plan" }).click();
  await expect(words(page).getByRole("row", { name: "the watch room who, 1 line" })).toBeVisible();
  await meaning(page, "The watch").selectOption("VTS");
  await meaning(page, "the watch room").selectOption({ label: "a person …" });
  await words(page).getByLabel("Mail address for “the watch room”").fill("i.vane@merrowby.example");
  await words(page).getByRole("button", { name: "Choose" }).click();
  await expect(page.getByText(/^3 sites in the list: 3 new ones/)).toBeVisible();
  await expect(page.getByText("Not understood: imported as not reported")).toBeHidden();
  await isAccessible(page);
  await page.getByRole("button", { name: "Import 3 sites" }).click();
  await expect(page.getByRole("status").filter({ hasText: /^Imported\./ })).toBeVisible();

  await page.goto(`/?filter=${encodeURIComponent(`name eq "Slipways ${run}"`)}`);
  await expect(page.getByRole("grid").getByRole("row", { name: new RegExp(`Slipways ${run}`) })).toContainText(
    "anonymous",
  );

  await page.goto("/sources/Foreshore/import");
  await page.getByRole("button", { name: "Undo …" }).first().click();
  await page.getByRole("button", { name: "Undo the import" }).click();
  await expect(page.getByText(/Undone /).first()).toBeVisible();
});
