import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["src/**/*.test.{ts,tsx}", "tools/**/*.test.ts", "tests/fuzz/*.test.ts"],
    environment: "node",
    restoreMocks: true,
    testTimeout: 60_000,
  },
});
