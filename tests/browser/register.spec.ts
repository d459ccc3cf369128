import type { Page } from "@playwright/test";
import { readFile } from "node:fs/promises";
import { allSites, atSlipway, expect, hereIn, isAccessible, readSlipway, signIn, test } from "./harbour";

test("the register is worked from the keyboard", async ({ page }) => {
  await signIn(page, "n.bell");
  const grid = page.getByRole("grid", { name: "Sites" });
  await grid.focus();
  // A key pressed before the lines arrive is lost and breaks nothing.
  await page.keyboard.press("ArrowDown");
  await expect(page.getByText(allSites)).toBeVisible();
  await page.keyboard.press("Home");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowDown");
  await expect(hereIn(page)).toHaveAttribute("aria-rowindex", "4");
  await page.keyboard.press("End");
  const lines = Number(await grid.getAttribute("aria-rowcount"));
  await expect(hereIn(page)).toHaveAttribute("aria-rowindex", lines.toString());
  await page.keyboard.press("Home");
  await expect(hereIn(page)).toHaveAttribute("aria-rowindex", "2");
  await expect(page.getByRole("button", { name: "Restrict", exact: true })).toBeEnabled();
  await page.keyboard.press("r");
  await expect(page.getByRole("button", { name: "Restrict", exact: true })).toBeFocused();
  await grid.focus();
  const title = await hereIn(page).getByRole("link").textContent();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: title ?? "" })).toBeVisible();
  await page.goBack();
  await expect(grid).toBeVisible();
});

test("a link keeps the view, an empty list explains itself, and a filter's error names its column", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/?unit=LEG&status=offline&rule=R-02");
  await expect(page.getByRole("heading", { name: "No site matches" })).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Remove all filters" }).click();
  await expect(page.getByText(allSites)).toBeVisible();

  await page.getByRole("button", { name: "Add a filter" }).click();
  await page.getByRole("button", { name: "Write a filter" }).click();
  await page.getByLabel("Filter expression").fill('owners[standing is "left"]');
  await page.getByRole("button", { name: "Filter", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("Column 17: expected one of eq ne co sw ew gt ge lt le pr");
  await isAccessible(page);

  // A suggestion appears; Enter takes it, and without a suggestion Enter filters.
  await page.getByLabel("Filter expression").fill("");
  await page.getByLabel("Filter expression").pressSequentially("owners[stan");
  await expect(page.getByRole("option", { name: /^standing/ })).toBeVisible();
  await isAccessible(page);
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Filter expression")).toHaveValue("owners[standing ");
  await page.getByLabel("Filter expression").pressSequentially('eq "left"]');
  await page.keyboard.press("Enter");
  await expect(page.getByRole("row", { name: /Model makers handbook/ })).toBeVisible();
});

test("any attribute can be a filter: with counts, in the link, and with the sites where it is unknown", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell");
  await expect(page.getByText(allSites)).toBeVisible();
  await page.getByRole("button", { name: "Add a filter" }).click();
  await page.getByLabel("Find an attribute").fill("how sensitive");
  await isAccessible(page);
  await page.getByRole("button", { name: /^classification/ }).click();
  const guarded = page.getByRole("checkbox", { name: /^Guarded/ });
  await guarded.check();
  const promised = await page.getByRole("listitem").filter({ has: guarded }).innerText();
  await isAccessible(page);
  await page.getByRole("button", { name: "Filter", exact: true }).click();

  const part = page.getByRole("button", { name: "Filter: classification is “Guarded”" });
  await expect(part).toBeVisible();
  const count = /\d+$/.exec(promised.trim())?.[0] ?? "none";
  await expect(page.getByText(new RegExp(`^${count} of \\d+ sites$`))).toBeVisible();

  // Sites where nobody set the attribute are not in the list, and are counted.
  await page.getByRole("button", { name: /more where the filters cannot tell$/ }).click();
  await expect(page.getByText(/classification is not known of \d+ sites/)).toBeVisible();
  await page.getByRole("button", { name: "Columns" }).click();
  await page.getByRole("checkbox", { name: "classification", exact: true }).check();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("gridcell", { name: "not known", exact: true }).first()).toBeVisible();
  await isAccessible(page);

  // The link keeps the whole view. A steward sees the same view of their own units only.
  const other = await (await browser.newContext()).newPage();
  const address = new URL(page.url());
  await signIn(other, "h.nair", `${address.pathname}${address.search}`);
  await expect(other.getByRole("button", { name: "Filter: classification is “Guarded”" })).toBeVisible();
  await expect(other.getByRole("button", { name: "Show the sites that match" })).toBeVisible();

  await page.goBack();
  await page.goBack();
  await expect(part).toBeHidden();
  await page.goForward();
  await part.click();
  await page.getByRole("button", { name: "Remove the filter" }).click();
  await expect(page.getByText(allSites)).toBeVisible();
});

test("a link to a site beyond the first hundred lines shows it", async ({ page }) => {
  await signIn(page, "n.bell", "/?sort=title");
  const grid = page.getByRole("grid", { name: "Sites" });
  await expect(page.getByText(allSites)).toBeVisible();
  await grid.focus();
  await page.keyboard.press("End");
  await expect(page).toHaveURL(/site=\d+/);
  const last = hereIn(page);
  const title = (await last.getByRole("link").textContent()) ?? "";
  await page.goto(page.url());
  await expect(hereIn(page)).toContainText(title);
  await expect(page.getByRole("complementary", { name: "Details" })).toContainText(title);
});

test("a second administrator gets the new plan and keeps what was typed", async ({ page, browser }) => {
  const address = "/?filter=name%20eq%20%22Storm%20desk%202023%22";
  const margin = (of: typeof page) => of.getByRole("complementary", { name: "Details" });
  await atSlipway("w0014", [
    { entry: "world", role: "read", proof: "none" },
    { entry: "partners", role: "read" },
  ]);
  await signIn(page, "n.bell", address);
  await readSlipway(page);
  await expect(margin(page)).toContainText("Partners: view becomes nothing");

  // The second has looked and typed, and then the first does a part of it.
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "t.aske", address);
  await margin(other).getByLabel("Reason, for the journal").fill("Old desk");
  let pass: () => void = () => undefined;
  const passed = new Promise<void>((resolve) => (pass = resolve));
  await other.route(
    "**/restrict",
    async (route) => {
      await passed;
      await route.continue();
    },
    { times: 1 },
  );
  await margin(other).getByRole("button", { name: "Restrict", exact: true }).click();

  await margin(page).getByRole("button", { name: "Adjust …" }).click();
  await margin(page).getByLabel("View the published site: outside").selectOption("partners");
  await margin(page).getByLabel("View the draft: outside").selectOption("partners");
  await expect(margin(page)).not.toContainText("Partners: view becomes nothing");
  await margin(page).getByRole("button", { name: "Restrict", exact: true }).click();
  await expect(margin(page).getByRole("list", { name: "Progress" })).toContainText(/verified \d/);
  pass();

  await expect(margin(other).getByRole("alert")).toContainText(
    "Something has changed since you looked. Nothing was done. ",
  );
  await expect(margin(other).getByLabel("Reason, for the journal")).toHaveValue("Old desk");
  await expect(margin(other)).not.toContainText("Anonymous visitors: view becomes nothing");
  await isAccessible(other);
  await margin(other).getByRole("button", { name: "Restrict", exact: true }).click();
  await expect(margin(other)).toContainText("“Old desk”");
  await other.context().close();
});

test("a change made at the host is seen without reloading the page", async ({ page }) => {
  await signIn(page, "n.bell", "/?filter=name%20eq%20%22Cruise%20arrivals%22");
  const margin = page.getByRole("complementary", { name: "Details" });
  await expect(margin.getByRole("heading", { name: "Cruise arrivals" })).toBeVisible();
  await expect(margin).not.toContainText("All of the staff can edit");
  await atSlipway("w0007", [{ entry: "everyone", role: "edit" }]);
  await readSlipway(page);
  await expect(margin).toContainText("All of the staff can edit");
  await isAccessible(page);
});

const sitesOf = (page: Page) =>
  page.evaluate(async () => {
    const range = (await (await fetch("/api/register/range")).json()) as { sites: number[] };
    return range.sites;
  });

test("a steward sees the sites of their units, and no other", async ({ page, browser }) => {
  const administrator = await (await browser.newContext()).newPage();
  await signIn(administrator, "n.bell");
  await signIn(page, "h.nair");
  await expect(page.getByText(/^(\d+) of \1 sites$/)).toBeVisible();
  const [all, seen] = await Promise.all([sitesOf(administrator), sitesOf(page)]);
  const other = all.find((site) => !seen.includes(site));
  await administrator.context().close();
  await page.goto(`/sites/${other}`);
  await expect(page.getByRole("heading", { name: "There is no such site" })).toBeVisible();
});

test("hostile titles from a host are shown as plain text", async ({ page }) => {
  await signIn(page, "n.bell", "/?sort=edited");
  await page.evaluate(() => ((window as unknown as { struck: boolean }).struck = false));
  await page.route("**/api/register?**", async (route) => {
    const answer = await route.fetch();
    const body = (await answer.json()) as { lines: { title: string }[] };
    const first = body.lines[0];
    if (first) first.title = "<img src=x onerror=struck=true>\u202egnp.\u200b" + "x".repeat(500);
    await route.fulfill({ response: answer, json: body });
  });
  await page.getByRole("button", { name: /^Order:/ }).click();
  await page.getByRole("button", { name: "by name", exact: true }).click();
  await expect(page.getByRole("link", { name: /<img src=x/ })).toBeVisible();
  expect(await page.evaluate(() => (window as unknown as { struck: boolean }).struck)).toBe(false);
});

test("the finder goes to a site, a person and a page from the keyboard", async ({ page }) => {
  await signIn(page, "n.bell");
  await expect(page.getByText(allSites)).toBeVisible();
  await page.keyboard.press("Control+k");
  const finder = page.getByRole("dialog", { name: "Finder" });
  await finder.getByRole("combobox").fill("collision inquiry");
  await expect(finder.getByRole("option", { name: /Collision inquiry/ })).toBeVisible();
  await isAccessible(page);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: "Collision inquiry" })).toBeVisible();

  await page.keyboard.press("Control+k");
  await finder.getByRole("combobox").fill("i.vane@");
  await finder.getByRole("option", { name: /i\.vane@merrowby\.example/ }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Idris Vane" })).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: /^Owned \d+$/ }).click();
  await expect(page.getByRole("cell", { name: "edits", exact: true })).toHaveCount(0);
  await page.getByRole("link", { name: "See the owned sites in the register" }).click();
  await expect(
    page.getByRole("button", { name: /Filter: an owner's address is “i\.vane@merrowby\.example”/ }),
  ).toBeVisible();

  await page.getByRole("button", { name: /^Find Ctrl/ }).click();
  await finder.getByRole("combobox").fill("restore");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1, name: "Attic" })).toBeVisible();
  await page.keyboard.press("Control+k");
  await finder.getByRole("combobox").fill("zzzz");
  await expect(finder.getByText("Nothing found.")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(finder).toBeHidden();
});

test("a view is saved, shared, opened by somebody else on the sites they may see, and deleted", async ({
  page,
  browser,
}) => {
  await signIn(page, "n.bell", "/?status=offline&sort=title");
  await expect(page.getByRole("status").filter({ hasText: /of \d+ sites/ })).toBeVisible();
  await page.getByRole("button", { name: /^Saved views/ }).click();
  await page.getByLabel("Save the current view as").fill("Offline, by name");
  await page.getByRole("checkbox", { name: /Share with everybody/ }).check();
  await isAccessible(page);
  await page.getByRole("button", { name: "Save the view" }).click();
  await expect(page.getByRole("button", { name: /Offline, by name/ }).first()).toBeVisible();

  const other = await (await browser.newContext()).newPage();
  await signIn(other, "h.nair");
  await other.getByRole("button", { name: /^Saved views/ }).click();
  await other.getByRole("button", { name: /Offline, by name.*shared by Nora Bell/ }).click();
  await expect(other).toHaveURL(/status=offline/);
  await expect(other.getByRole("button", { name: /^Status/ })).toContainText("are offline");
  await other.context().close();

  await page.getByRole("button", { name: "Delete the view Offline, by name" }).click();
  await expect(page.getByRole("button", { name: /Offline, by name/ })).toHaveCount(0);
});

test("what the filters find can be exported", async ({ page }) => {
  await signIn(page, "n.bell", "/?unit=PIL&sort=title");
  const lines = /^(\d+) of/.exec((await page.getByText(/^\d+ of \d+ sites/).textContent()) ?? "")?.[1];
  await page.getByRole("button", { name: "Export" }).click();
  await isAccessible(page);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: /^CSV/ }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^register-\d{4}-\d{2}-\d{2}\.csv$/);
  const text = await readFile(await download.path(), "utf8");
  expect(text.split("\r\n").filter((line) => /,(Slipway|Quay|Lantern|Foreshore),PIL,/.test(line))).toHaveLength(
    Number(lines),
  );
});
