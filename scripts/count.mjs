// Adds up the results of the runners (CTRF of xUnit, JSON of Vitest and Playwright) and the checks. The names and messages of failed
// tests come first, because whoever reads a long log reads its end.
import { existsSync, readdirSync, readFileSync } from "node:fs";

const [folder, passedChecks, failedChecks] = process.argv.slice(2);
let passed = Number(passedChecks);
let failed = Number(failedChecks);

const mostLines = 12;
const mostOfPage = 120;

function fail(name, ...messages) {
  console.error(`FAILED: ${name}`);
  for (const message of messages) print(message, mostLines);
}

function print(text, most) {
  const lines = String(text ?? "").replace(/\u001b\[\d+m/g, "").trim().split("\n");
  if (lines[0]) console.error(lines.slice(0, most).map((line) => `    ${line}`).join("\n"));
}

/** What a browser showed when a test failed there; a test that passed when it was tried once more is named too. */
function failInBrowser(spec) {
  for (const run of spec.tests.flatMap((test) => test.results)) {
    if (!run.errors?.length) continue;
    fail(spec.ok ? `${spec.title} (passed when tried once more)` : spec.title, ...run.errors.map((error) => error.message));
    for (const { name, path } of run.attachments ?? [])
      if (name === "error-context" && path && existsSync(path)) print(pageIn(readFileSync(path, "utf8")), mostOfPage);
  }
}

const pageIn = (context) =>
  (/# Page snapshot\s+```yaml\n([^]*?)\n```/.exec(context)?.[1] ?? "").replace(/ \[(ref=\w+|cursor=pointer)\]/g, "");

function* specsOf(suite) {
  yield* suite.specs ?? [];
  for (const inner of suite.suites ?? []) yield* specsOf(inner);
}

for (const file of readdirSync(folder).filter((name) => name.endsWith(".json"))) {
  const result = JSON.parse(readFileSync(`${folder}/${file}`, "utf8"));
  if (result.results?.summary) {
    passed += result.results.summary.passed;
    failed += result.results.summary.failed;
    for (const test of result.results.tests ?? [])
      if (test.status === "failed") fail(test.name, test.message ?? test.trace);
  } else if (typeof result.numPassedTests === "number") {
    passed += result.numPassedTests;
    failed += result.numFailedTests;
    for (const test of (result.testResults ?? []).flatMap((of) => of.assertionResults ?? []))
      if (test.status === "failed") fail(test.fullName, test.failureMessages?.[0]);
  } else if (result.stats) {
    passed += result.stats.expected + result.stats.flaky;
    failed += result.stats.unexpected;
    for (const spec of (result.suites ?? []).flatMap((suite) => [...specsOf(suite)]))
      failInBrowser(spec);
  } else {
    failed += 1;
    console.error(`${file} is not a known result file.`);
  }
}
console.log(`${passed} ${failed}`);
