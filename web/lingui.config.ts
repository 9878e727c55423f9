import { defineConfig } from "@lingui/conf";
import { formatter } from "@lingui/format-po";

// where `publish --check` writes what it compares
const folder = process.env.UVRIX_CATALOGUES ?? "src/language";

/** English is the source; the pseudo-locale is made of it, so that a text outside the catalogue stands out. */
export default defineConfig({
  sourceLocale: "en",
  locales: ["en", "pseudo"],
  pseudoLocale: "pseudo",
  fallbackLocales: { default: "en" },
  catalogs: [{ path: `${folder}/{locale}`, include: ["src"], exclude: ["**/*.test.*", "**/schema.d.ts"] }],
  format: formatter({ origins: false, lineNumbers: false }),
});
