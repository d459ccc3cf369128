import type { Browser } from "@playwright/test";
import { atSlipway, expect, isAccessible, readSlipway, signIn, test } from "./harbour";
import { mailTo, signInForTheFirstTime } from "./mails";

const newPage = async (browser: Browser) => (await browser.newContext()).newPage();

test("a second owner is added to 20 sites at once, accepts them together, and the findings end", async ({
  page,
  browser,
}) => {
  // Sites with one active owner, which no second person has to agree to.
  const filter = 'owners.active.count eq 1 and host eq "Slipway" and breaks eq "R-03"';
  await signIn(page, "n.bell", `/?filter=${encodeURIComponent(filter)}&sort=-title`);
  const grid = page.getByRole("grid", { name: "Sites" });
  await expect(grid.getByRole("row").nth(1)).toBeVisible();
  const before = Number(await grid.getAttribute("aria-rowcount")) - 1;
  await grid.focus();
  await page.keyboard.press("Home");
  await page.keyboard.press("Space");
  for (let step = 0; step < 19; step++) await page.keyboard.press("Shift+ArrowDown");
  const bar = page.getByRole("region", { name: "Selected sites" });
  await expect(bar.getByRole("status")).toContainText("20 sites selected");
  await bar.getByRole("button", { name: "Add an owner …" }).click();
  await expect(page.getByRole("heading", { name: "Add an owner to 20 sites" })).toBeVisible();
  await page.getByLabel("Another person").fill("Greta Nance");
  await page.getByRole("radio", { name: /Greta Nance/ }).check();
  await page.getByLabel("Reason").fill("One owner is too few");
  await isAccessible(page);
  await page.getByRole("button", { name: "Plan it for Greta Nance …" }).click();

  // The plan says for each site what follows; the password confirms it.
  const start = page.getByRole("button", { name: /^Ask Greta Nance to own \d+ sites too$/ });
  await expect(start).toBeVisible();
  const possible = Number(/\d+/.exec((await start.textContent()) ?? "")?.[0]);
  expect(possible).toBeGreaterThan(17);
  await isAccessible(page);
  await page.getByLabel(/Your password/).fill("not mine");
  await start.click();
  await expect(page.getByRole("alert")).toHaveText("The password is wrong. Enter the password of your account.");
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await start.click();
  await expect(page.getByRole("button", { name: `${possible} done` })).toBeVisible();

  // The recipient accepts all of them in one go.
  const nance = await newPage(browser);
  await signInForTheFirstTime(nance, "g.nance", await mailTo("g.nance", /is offered to you/));
  await nance.goto("/your-sites");
  await isAccessible(nance);
  await nance.getByRole("button", { name: /^Review and accept all \d+ …$/ }).click();
  const accept = nance.getByRole("button", { name: /^Accept the offers of \d+ sites$/ });
  await expect(accept).toBeVisible();
  const offered = Number(/\d+/.exec((await accept.textContent()) ?? "")?.[0]);
  expect(offered).toBeGreaterThanOrEqual(possible);
  await accept.click();
  await expect(nance.getByRole("button", { name: `${offered} done` })).toBeVisible();
  await nance.context().close();

  // The register has that many fewer such sites.
  await expect
    .poll(async () => {
      await page.goto(`/?filter=${encodeURIComponent(filter)}`);
      await expect(page.getByRole("heading", { level: 1, name: "Register" })).toBeVisible();
      return /^(\d+) of/.exec(
        (await page.getByRole("status").filter({ hasText: / of / }).first().textContent()) ?? "",
      )?.[1];
    })
    .toBe(String(before - possible));
});

test("somebody who has left is taken off everywhere, and the cause is gone from the desk", async ({ page }) => {
  await signIn(page, "n.bell", "/desk");
  const left = page.getByRole("listitem").filter({ hasText: /people who left still have access at Slipway/ });
  await expect(left.getByRole("link", { name: /^Tomas Polwin \(\d+ sites\)$/ })).toBeVisible();
  await isAccessible(page);
  await left.getByRole("link", { name: "Remove the access of Tomas Polwin …" }).click();
  await expect(page.getByRole("heading", { name: "Remove the access of Tomas Polwin" })).toBeVisible();
  await isAccessible(page);
  await page.getByLabel("Reason (optional)").fill("Left in September");
  await page.getByRole("button", { name: "See the plan …" }).click();
  const start = page.getByRole("button", { name: /^Remove the access of Tomas Polwin from \d+ sites?$/ });
  const sites = Number(/\d+/.exec((await start.textContent()) ?? "")?.[0]);
  await start.click();
  await expect(page.getByRole("button", { name: `${sites} done` })).toBeVisible();
  await page.goto("/desk");
  await expect(page.getByRole("heading", { name: /'s desk$/ })).toBeVisible();
  await expect(page.getByRole("status").first()).toContainText("findings");
  await expect(left).toBeVisible();
  await expect(left.getByRole("link", { name: /^Tomas Polwin/ })).toHaveCount(0);

  // The journal says it in words, with the undo beside it.
  await page.goto("/journal?action=access.remove");
  await page
    .getByRole("button", { name: /: its details$/ })
    .first()
    .click();
  await expect(page.getByText("Tomas Polwin").first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Undo …" })).toBeVisible();
  await isAccessible(page);
});

test("a site whose only owner is away until February gets another owner, with a reason and a second person", async ({
  page,
}) => {
  await signIn(
    page,
    "n.bell",
    `/?filter=${encodeURIComponent('owners[standing eq "absent"] and owners.active.count eq 0')}`,
  );
  const row = page.getByRole("grid", { name: "Sites" }).getByRole("row").nth(1);
  await expect(row).toBeVisible();
  await row.getByRole("link").first().click();
  await page.getByRole("link", { name: "Hand over …" }).click();
  await expect(page.getByText(/^Only an owner can hand the site over: .* is away until/)).toBeVisible();
  await page.getByRole("link", { name: "add an owner" }).click();
  await page.getByRole("radio").first().check();
  await page.getByLabel("Reason").fill("The owner is away until February");
  await page.getByLabel(/Your password/).fill("merrowby-harbour");
  await page.getByRole("button", { name: /^Ask a second person to assign/ }).click();
  await expect(page.getByText("You made this request")).toBeVisible();
  await page.getByRole("button", { name: /Withdraw/ }).click();
});

test("ordinary members of staff read what they own, edit and may view, and whom to ask", async ({ page, browser }) => {
  await signIn(page, "i.vane", "/your-sites");
  await expect(page.getByRole("region", { name: "In use" })).not.toContainText("You own none");
  await expect(page.getByRole("region", { name: "You can edit or view" })).toContainText(/Ask .+@merrowby\.example/);
  await isAccessible(page);

  // Whoever owns nothing reads where to begin, and no page is merely forbidden.
  const other = await newPage(browser);
  await signIn(other, "g.sollis", "/your-sites");
  await expect(other.getByRole("heading", { name: "You can edit or view" })).toBeVisible();
  await page.goto("/accounts");
  await expect(page.getByText("Your role does not include this.").first()).toBeVisible();
  await other.context().close();
});

test("a member of staff with one site to edit, with one to view, and with none, reads which and whom to ask", async ({
  page,
  browser,
}) => {
  // Kester Roe is in the group of the whole harbour and in no other, and no site names him.
  const who = "k.roe";
  const asGroup = (role: string | null) => atSlipway("w0011", [{ entry: "g:39", role }]);
  const administrator = await newPage(browser);
  await signIn(administrator, "n.bell", "/");
  await page.goto("/sign-in");
  await page.getByLabel("Mail address").fill(`${who}@merrowby.example`);
  await page.getByRole("button", { name: "Send a link to choose a password" }).click();
  await signInForTheFirstTime(page, who, await mailTo(who, /Choose a password/));

  const others = page.getByRole("region", { name: "You can edit or view" });
  await expect(page.getByRole("region", { name: "In use" })).toContainText("You own none");
  await expect(others.getByRole("listitem")).toHaveCount(1);
  await expect(others).toContainText(/Berth planning.*You can edit it\..*Ask .+\(n\.bell@merrowby\.example\)/);
  await isAccessible(page);
  await page.setViewportSize({ width: 390, height: 844 });
  await isAccessible(page);

  await asGroup("read");
  await readSlipway(administrator);
  await expect(others).toContainText(/Berth planning.*You can view it\./);
  await asGroup(null);
  await readSlipway(administrator);
  await expect(others).toContainText("No other site names you");
  await isAccessible(page);

  // What he may not see is said, with what to do; what he may see has no control that would be refused.
  await page.goto("/accounts");
  await expect(page.getByText("Your role does not include this.").first()).toBeVisible();
  await page.goto("/sources");
  await expect(page.getByRole("heading", { name: "Slipway" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Sync now" })).toHaveCount(0);
  await asGroup("edit");
  await readSlipway(administrator);
  await administrator.context().close();
});

test("the remedy of a finding, or what stays and who can change it, is in the first screen of the details", async ({
  page,
}) => {
  await signIn(page, "n.bell", "/");
  for (const rule of ["R-02", "R-03", "R-07"]) {
    const sites = await page.evaluate(async (broken) => {
      const answer = await fetch(`/api/register?limit=4&rule=${broken}`);
      return ((await answer.json()) as { lines: { id: number }[] }).lines.map(({ id }) => id);
    }, rule);
    expect(sites.length).toBeGreaterThan(0);
    for (const site of sites) {
      await page.goto(`/?rule=${rule}&site=${site}`);
      const details = page.getByRole("complementary", { name: "Details" });
      const remedy = details.getByText(new RegExp(`… .*\\(${rule}\\)$`)).or(details.locator("li.text-ochre"));
      await expect(remedy.first()).toBeInViewport({ ratio: 1 });
    }
  }
});

test("an auditor meets no control that refuses", async ({ page }) => {
  const refused: string[] = [];
  page.on("response", (response) => {
    if (response.status() === 403) refused.push(response.url());
  });
  await signIn(page, "g.sollis", "/desk");
  for (const path of [
    "/desk",
    "/",
    "/owners",
    "/attic",
    "/journal",
    "/sources",
    "/reports",
    "/reports/remedies",
    "/tree",
    "/deadlines",
    "/your-sites",
  ]) {
    await page.goto(path);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await expect(page.getByText("…", { exact: true })).toHaveCount(0);
    await expect(
      page.getByRole("button", {
        name: /^(Add an owner|Restrict|Remove the access|Restore|Undo|Move (it|to)|Place|Import|Sync)/,
      }),
    ).toHaveCount(0);
    await expect(
      page.getByRole("link", { name: /^(Add an owner|Hand over|Remove|Move to the attic|Import)/ }),
    ).toHaveCount(0);
  }
  expect(refused).toEqual([]);
});
