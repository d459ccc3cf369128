import { expect, isAccessible, readSlipway, signIn, slipwayFaults, test, visit } from "./harbour";

test("an invitation that one of the layers stops goes by itself once it is raised, and a review removes the guest", async ({
  page,
}) => {
  // Another attempt finds the limit and the guest of the first.
  const mail = `mara.tove.${Date.now()}@tideworks.example`;
  await signIn(page, "n.bell", "/limits");
  const limit = page.getByRole("row", { name: /Unit Cruise/ });
  await expect(page.getByRole("row", { name: /Unit Pilotage/ })).toBeVisible();
  if ((await limit.count()) === 0) {
    await page.getByLabel("Add a limit for").selectOption({ label: "Unit Cruise" });
    await page.getByRole("button", { name: "Try it out …" }).click();
    await page.getByLabel("Published site: outside").selectOption("no-one");
    await page.getByLabel("Reason").fill("No guests before the season");
    await page.getByRole("button", { name: "Set the limit" }).click();
  }
  await expect(limit).toBeVisible();

  await page.goto(`/?filter=${encodeURIComponent('title eq "Passenger plan"')}`);
  await page.getByRole("row").nth(1).getByRole("link").first().click();
  await page.getByRole("link", { name: "Invite a guest …" }).click();
  const address = page.getByLabel("Mail address of the guest");

  // Staff, former staff and look-alike letters are refused with the reason, and what was typed stays.
  for (const [typed, says] of [
    ["d.lund@merrowby.example", "Delphine Lund is inside"],
    ["p.lund@merrowby.example", "Petra Lund has left"],
    ["somebody@rnerrowby.example", "easily taken for an address at merrowby.example"],
  ] as const) {
    await address.fill(typed);
    await expect(page.getByText(says)).toBeVisible();
    await expect(page.getByRole("button", { name: "Invite", exact: true })).toBeDisabled();
  }
  await address.fill(mail);
  await expect(page.getByText("a new guest from outside")).toBeVisible();
  await expect(page.getByText(`${mail} cannot get in: Unit Cruise stops it.`)).toBeVisible();
  await isAccessible(page);
  await page.getByRole("button", { name: "Invite", exact: true }).click();
  const invited = page.getByRole("region", { name: "Invitations" }).getByRole("listitem").filter({ hasText: mail });
  await expect(invited).toContainText("Waiting, nothing sent");
  await expect(invited).toContainText("Unit Cruise stops it");
  await isAccessible(page);
  expect(await visit("passenger-plan", mail)).toBe(404);
  const here = page.url();

  // The layer, and what raising it opens; then it is raised, and the host is slow.
  await invited.getByRole("link", { name: "What would let them in …" }).click();
  await expect(page.getByRole("row", { name: /Unit Cruise/ })).toContainText("does not allow it");
  await page.goto("/limits");
  await limit.getByRole("link", { name: /Change/ }).click();
  await page.getByRole("button", { name: "Remove the limit instead" }).click();
  await page.getByLabel("Reason").fill("The season begins");
  await slipwayFaults("seed=3&delay=2000");
  await page.getByRole("button", { name: "Remove the limit" }).click();
  await expect(page.getByRole("heading", { name: "Limits", level: 1 })).toBeVisible();
  await page.goto(here);
  await expect(invited).toContainText("Sent");
  await slipwayFaults("seed=0");

  expect(await visit("passenger-plan", mail)).toBe(200);
  await page.goto("/");
  await readSlipway(page);
  await page.goto(here);
  await expect(invited).toContainText("Accepted");
  await isAccessible(page);

  await page.goto("/guests");
  await page.getByLabel("Find a guest by name or mail address").fill(mail);
  const guest = page.getByRole("row", { name: new RegExp(mail) });
  await expect(guest).toContainText("1 site until");
  await isAccessible(page);
  await guest.getByRole("button", { name: "Still needed" }).click();
  await expect(guest).toContainText("needed,");
  await guest.getByRole("link", { name: "Remove from everywhere …" }).click();
  await page.getByRole("button", { name: "See the plan …" }).click();
  await page.getByRole("button", { name: /^Remove/ }).click();
  await expect(page.getByRole("button", { name: "1 done" })).toBeVisible();
  await expect.poll(() => visit("passenger-plan", mail)).toBe(404);
  await page.goto(here);
  await expect(invited).toContainText("Over");
});
