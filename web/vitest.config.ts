import { fileURLToPath } from "node:url";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  // The tests stand outside the application's folder.
  root: fileURLToPath(new URL("../tests/web", import.meta.url)),
  plugins: [react()],
  server: { fs: { strict: false } },
  // Each test clears up after itself (setup.ts), so the files share one page and one copy of the modules: six times as fast.
  // The first test of a file compiles what it imports, on whatever machine this is.
  test: { environment: "jsdom", setupFiles: ["./setup.ts"], isolate: false, testTimeout: 120_000 },
});
