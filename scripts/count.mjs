// Adds up the results of the runners (CTRF of xUnit, JSON of Vitest and Playwright) and the checks.
import { readdirSync, readFileSync } from "node:fs";

const [folder, passedChecks, failedChecks] = process.argv.slice(2);
let passed = Number(passedChecks);
let failed = Number(failedChecks);
for (const file of readdirSync(folder).filter((name) => name.endsWith(".json"))) {
  const result = JSON.parse(readFileSync(`${folder}/${file}`, "utf8"));
  if (result.results?.summary) {
    passed += result.results.summary.passed;
    failed += result.results.summary.failed;
  } else if (typeof result.numPassedTests === "number") {
    passed += result.numPassedTests;
    failed += result.numFailedTests;
  } else if (result.stats) {
    passed += result.stats.expected + result.stats.flaky;
    failed += result.stats.unexpected;
  } else {
    failed += 1;
    console.error(`${file} is not a known result file.`);
  }
}
console.log(`${passed} ${failed}`);
