import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// under ./dev: what Django answers
const api = process.env.UVRIX_API;

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  server: api ? { proxy: { "/api": api, "/healthz": api } } : {},
  test: { environment: "happy-dom", restoreMocks: true, unstubGlobals: true },
});
