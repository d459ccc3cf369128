import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: ".",
  // What is tried on a large register has an installation of its own.
  testMatch: process.env.ATTIC_SITES ? "large/*.spec.ts" : "*.spec.ts",
  testIgnore: process.env.ATTIC_SITES ? [] : "large/**",
  // One installation serves them all, so they take turns.
  workers: 1,
  // On a build server that is short of a core a test may be tried once more; the list then says that it was flaky.
  retries: process.env.CI ? 1 : 0,
  timeout: 180_000,
  expect: { timeout: 60_000 },
  reporter: [["list"], ["json", { outputFile: process.env.RESULTS ?? "results.json" }]],
  outputDir: `${process.env.RESULTS ?? "results.json"}.files`,
  use: {
    // What does not become possible is named with its place, rather than the whole test with its length.
    actionTimeout: 60_000,
    navigationTimeout: 60_000,
    baseURL: process.env.ATTIC_URL,
    viewport: { width: 1280, height: 800 },
    colorScheme: "light",
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
