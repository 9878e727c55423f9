import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  test: { environment: "happy-dom", restoreMocks: true, unstubGlobals: true },
});
