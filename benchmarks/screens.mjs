// What somebody waits for in the browser, on a register of ATTIC_SITES sites with two servers, each beside a control of
// the same kind. Reported, not promised: a browser without a screen paints when it likes.
//   node screens.mjs FIRST-SERVER SECOND-SERVER
import { createRequire } from "node:module";

const { chromium } = createRequire(new URL("../web/package.json", import.meta.url))("@playwright/test");
const [first, second] = process.argv.slice(2);
const password = "a harbour of many sites";
const actions = 30;
const shut = { inside: "named", outside: "no-one", visitorSignIn: "account" };
const looks = 40;

const at = (times, part) => times.toSorted((a, b) => a - b)[Math.round(part * (times.length - 1))];
const ms = (time) => `${time.toLocaleString("en-GB", { maximumFractionDigits: 1 })} ms`;
const row = (what, times, part, control, beside) =>
  console.log(`| ${what} | ${ms(at(times, part))} | ${control} ${ms(at(beside, part))} | ${(at(times, part) / at(beside, part)).toFixed(1)} | |`);

const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
});
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();

async function signIn() {
  await page.goto(process.env.ATTIC_FIRST_LINK);
  await page.getByLabel("Password", { exact: true }).fill(password);
  await page.getByLabel("Repeat the password").fill(password);
  await page.getByRole("button", { name: /password/i }).click();
  await page.getByRole("heading", { name: "Your password is set" }).waitFor({ timeout: 60_000 });
  await page.goto(`${first}/sign-in`);
  await page.getByLabel("Mail address").fill("first@merrowby.example");
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("gridcell").first().waitFor({ timeout: 120_000 });
}

// The session is the same at both servers: they share the database, and the browser's cookie knows no ports.
async function ask(server, method, path, headers = {}, data = undefined) {
  const answer = await context.request.fetch(`${server}${path}`, { method, headers: { "X-Attic-Ledger": "1", ...headers }, data });
  if (!answer.ok()) throw new Error(`${method} ${path}: ${answer.status()} ${await answer.text()}`);
  return answer.json();
}

/** Sites are narrowed one by one; how long until both servers show the order, and how long the same looks take without one. */
async function actionUntilVisible() {
  const [seen, still] = [[], []];
  const open = encodeURIComponent('existence eq "in-use" and no-longer-reported eq false and edit.outside eq "anonymous"');
  const { lines } = await ask(first, "GET", `/api/register?filter=${open}&sort=title`);
  const wish = { target: { view: shut, preview: shut, edit: shut }, reason: null };
  for (const { id } of lines) {
    if (seen.length === actions) break;
    const { plan } = await ask(first, "POST", `/api/sites/${id}/restrict/plan`, {}, wish);
    if (!plan) continue;
    const look = (headers) => Promise.all([first, second].map((server) => ask(server, "GET", `/api/sites/${id}`, headers)));
    const before = performance.now();
    await look();
    still.push(performance.now() - before);
    const start = performance.now();
    const done = await ask(first, "POST", `/api/sites/${id}/restrict`, { "Idempotency-Key": crypto.randomUUID() }, { ...wish, fingerprint: plan.fingerprint });
    const both = await look({ "Register-At": done.place.toString() });
    seen.push(performance.now() - start);
    if (both.some((one) => one.line.underWay === 0)) throw new Error(`The order for site ${id} is not visible.`);
  }
  row("an action until both servers show it, p50", seen, 0.5, "reading both without an action", still);
}

/** A new page each time, so that nothing is kept but what the browser caches. */
async function firstScreen() {
  const until = async (path, what) => {
    const fresh = await context.newPage();
    const start = performance.now();
    await fresh.goto(`${first}${path}`);
    await what(fresh).waitFor();
    await fresh.evaluate(() => new Promise((painted) => requestAnimationFrame(() => requestAnimationFrame(painted))));
    const time = performance.now() - start;
    await fresh.close();
    return time;
  };
  const [register, control] = [[], []];
  for (let i = 0; i < looks / 2; i++) {
    register.push(await until("/", (fresh) => fresh.getByRole("gridcell").first()));
    control.push(await until("/nowhere", (fresh) => fresh.getByRole("heading", { name: "There is no such page" })));
  }
  row("the first Register screen, p50", register, 0.5, "the application with no page in it", control);
}

/** From the click on a choice until the new rows are painted; compared with the click that opens the choices. */
async function filterUntilPainted() {
  const [filtered, opened] = [[], []];
  await page.goto(`${first}/?sort=title`);
  await page.getByRole("gridcell").first().waitFor();
  for (let i = 0; i < looks; i++) {
    opened.push(
      await page.evaluate(async () => {
        const start = performance.now();
        document.querySelector('button[aria-label^="Unit"]').click();
        while (!document.querySelector('[role="dialog"][aria-label="Unit"] button')) await new Promise(requestAnimationFrame);
        await new Promise((painted) => requestAnimationFrame(() => requestAnimationFrame(painted)));
        return performance.now() - start;
      }),
    );
    filtered.push(
      await page.evaluate(async (place) => {
        const lines = () => [...document.querySelectorAll('[role="row"] a')].map((one) => one.getAttribute("href")).join();
        const before = lines();
        const start = performance.now();
        document.querySelectorAll('[role="dialog"][aria-label="Unit"] button')[place].click();
        while (lines() === before || lines() === "") await new Promise(requestAnimationFrame);
        await new Promise((painted) => requestAnimationFrame(() => requestAnimationFrame(painted)));
        return performance.now() - start;
      }, (i % 20) + 1),
    );
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
  }
  row("a filter until its rows are painted, p95", filtered, 0.95, "opening the choices", opened);
}

/** Frames while a list moves by half a screen each, compared with those of a page that has only a tall box. */
async function scrolling() {
  const frames = (which) =>
    page.evaluate(async (selector) => {
      const box = document.querySelector(selector);
      const times = [];
      let last = await new Promise(requestAnimationFrame);
      for (let i = 0; i < 240; i++) {
        box.scrollTop += box.clientHeight / 2;
        const now = await new Promise(requestAnimationFrame);
        times.push(now - last);
        last = now;
      }
      return times;
    }, which);
  await page.goto(`${first}/?sort=title`);
  await page.getByRole("gridcell").first().waitFor();
  const list = await frames('[role="grid"]');
  await page.setContent('<div id="box" style="height:600px;overflow:auto"><div style="height:4600000px"></div></div>');
  row("a frame while scrolling, p95", list, 0.95, "in an empty tall box", await frames("#box"));
}

await signIn();
console.log("");
console.log(`| in the browser, ${Number(process.env.ATTIC_SITES).toLocaleString("en-GB")} sites, two servers | measured | compared with | ratio | |`);
console.log("|---|---|---|---|---|");
await actionUntilVisible();
await firstScreen();
await filterUntilPainted();
await scrolling();
await browser.close();
