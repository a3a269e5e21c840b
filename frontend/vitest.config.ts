import { defineConfig } from "vitest/config";

export default defineConfig({
  // a test ends in a second or two, but not beside other work on a slow machine: the limit is for what hangs
  test: { environment: "jsdom", include: ["tests/**/*.test.{ts,tsx}"], testTimeout: 60_000 },
});
