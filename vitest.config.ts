import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["src/**/*.test.{ts,tsx}", "tools/**/*.test.ts", "tests/fuzz/*.test.ts"],
    environment: "node",
    // What is tested keeps nothing between files, so they share their modules: half the time goes into loading them.
    isolate: false,
    maxWorkers: "100%",
    restoreMocks: true,
    testTimeout: 60_000,
  },
});
