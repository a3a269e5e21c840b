import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    environment: "jsdom",
    include: ["tests/**/*.test.{ts,tsx}"],
    isolate: false,
    setupFiles: "tests/fresh.ts",
    testTimeout: 60_000, // a test ends in a second or two, but not beside other work on a slow machine: this is for what hangs
  },
});
