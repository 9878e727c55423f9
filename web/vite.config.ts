import { existsSync, readdirSync, readFileSync } from "node:fs";
import { lingui } from "@lingui/vite-plugin";
import babel from "@rolldown/plugin-babel";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

// under ./dev: what Django answers
const api = process.env.UVRIX_API;

/** What the browser is given, fonts included, with the text of each package's licence: /licences.txt. */
function licences(): Plugin {
  const written = () => {
    const lock = JSON.parse(readFileSync("package-lock.json", "utf-8"));
    return Object.entries<{ version: string; license?: string; dev?: boolean; devOptional?: boolean }>(
      lock.packages,
    )
      .filter(([place, one]) => place && !one.dev && !one.devOptional && existsSync(place))
      .map(([place, one]) => {
        const file = readdirSync(place).find((name) => /^licen[cs]e/i.test(name));
        const text = file ? readFileSync(`${place}/${file}`, "utf-8").trim() : `Licence: ${one.license}`;
        return `${place.replace(/^.*node_modules\//, "")} ${one.version}\n\n${text}\n`;
      })
      .join(`\n${"-".repeat(72)}\n\n`);
  };
  return {
    name: "licences",
    generateBundle() {
      this.emitFile({ type: "asset", fileName: "licences.txt", source: written() });
    },
  };
}

/** The app and its English are fetched at once, not one after the other. */
function preloaded(): Plugin {
  return {
    name: "preloaded",
    transformIndexHtml(_, { bundle }) {
      const chunks = Object.values(bundle ?? {}).filter((file) => file.type === "chunk");
      const wanted = chunks.filter((file) =>
        /\/src\/(start\.tsx|language\/en\.po)$/.test(file.facadeModuleId ?? ""),
      );
      const files = new Set(wanted.flatMap((file) => [file.fileName, ...file.imports]));
      return [...files].map((file) => ({
        tag: "link",
        attrs: { rel: "modulepreload", crossorigin: true, href: `/${file}` },
        injectTo: "head",
      }));
    },
  };
}

// texts marked in the code become numbers of a catalogue, which is fetched beside it
const words = babel({
  include: /\/src\/.*\.tsx?$/,
  sourceMap: false,
  plugins: ["@lingui/babel-plugin-lingui-macro"],
});

export default defineConfig({
  plugins: [words, lingui(), react(), tailwindcss(), preloaded(), licences()],
  build: { assetsInlineLimit: 0, sourcemap: false, chunkSizeWarningLimit: 800 },
  server: api ? { proxy: { "/api": api, "/healthz": api } } : {},
  test: {
    setupFiles: ["src/language/english.ts", "patience.ts"],
    environment: "happy-dom",
    // one environment for all files: to make one takes longer than the tests of a file
    isolate: false,
    // a machine busy with other work may take a while for what is there at once
    testTimeout: 60_000,
    hookTimeout: 60_000,
    expect: { poll: { timeout: 20_000 } },
    restoreMocks: true,
    unstubGlobals: true,
  },
});
