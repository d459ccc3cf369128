// Adds up the results of the runners (CTRF of xUnit, JSON of Vitest and Playwright) and the checks. The names and messages of failed
// tests come first, because whoever reads a long log reads its end.
import { readdirSync, readFileSync } from "node:fs";

const [folder, passedChecks, failedChecks] = process.argv.slice(2);
let passed = Number(passedChecks);
let failed = Number(failedChecks);

function fail(name, message) {
  console.error(`FAILED: ${name}`);
  const lines = String(message ?? "").trim().split("\n");
  if (lines[0]) console.error(lines.slice(0, 8).map((line) => `    ${line}`).join("\n"));
}

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
      if (!spec.ok) fail(spec.title, spec.tests?.flatMap((test) => test.results).find((run) => run.error)?.error.message);
  } else {
    failed += 1;
    console.error(`${file} is not a known result file.`);
  }
}
console.log(`${passed} ${failed}`);
