import { expect, signIn, test } from "./harbour";

test("eight tabs are all alive over one stream, and what is done in one is seen in the others", async ({
  page,
  context,
}) => {
  const streams: string[] = [];
  context.on("request", (request) => {
    if (request.url().includes("/api/events")) streams.push(request.url());
  });
  await signIn(page, "n.bell", "/?where=host:is:Quay&rule=R-03&sort=-title");
  await page.getByRole("grid").getByRole("link").first().click();
  const notes = (tab: typeof page) => tab.getByRole("complementary", { name: "Details" });
  await expect(notes(page).getByRole("button", { name: "Grant an exception … (R-03)" })).toBeVisible();

  // Each page that is loaded opens a stream or waits for its turn: with the seventh all connections would be taken.
  const own = streams.length;
  const tabs = [page];
  while (tabs.length < 8) {
    const tab = await context.newPage();
    await tab.goto(page.url());
    tabs.push(tab);
  }
  for (const tab of tabs) {
    await expect(notes(tab).getByRole("button", { name: "Grant an exception … (R-03)" })).toBeVisible();
  }
  expect(streams).toHaveLength(own);

  // What is done in the eighth tab is on the screen of the first without a reload, and the other way round.
  const last = notes(tabs[7] ?? page);
  await last.getByRole("button", { name: "Grant an exception … (R-03)" }).click();
  await last.getByLabel(/^Reason why it may break R-03/).fill("Eight tabs");
  await last.getByLabel(/^Last day/).fill(new Date(Date.now() + 60 * 86_400_000).toISOString().slice(0, 10));
  await last.getByRole("button", { name: "Grant the exception", exact: true }).click();
  for (const tab of tabs) await expect(notes(tab).getByText(/by Nora Bell: Eight tabs/)).toBeVisible();

  // The tab with the stream closes: another goes on from the last place, and hears what happens next.
  await page.close();
  await expect.poll(() => streams.length).toBe(own + 1);
  expect(streams.at(-1)).toMatch(/after=\d+/);
  await last.getByRole("button", { name: "End the exception …" }).click();
  await last.getByLabel("Reason for ending it now").fill("Seven tabs");
  await last.getByRole("button", { name: "End the exception", exact: true }).click();
  for (const tab of tabs.slice(1)) {
    await expect(notes(tab).getByRole("button", { name: "Grant an exception … (R-03)" })).toBeVisible();
  }
});
