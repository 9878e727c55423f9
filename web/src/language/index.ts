import { i18n, type Messages } from "@lingui/core";

// one file a language; pseudo is made of the English: a text that stays plain in it stands in no catalogue
const CATALOGUES = import.meta.glob<{ messages: Messages }>("./*.po");

/** The language that the server speaks, as it wrote it into the page. */
function spoken(): string {
  const language = document.documentElement.dataset.language ?? "";
  return `./${language}.po` in CATALOGUES ? language : "en";
}

/** Take up the shop's language, before anything is shown. */
export async function speak(): Promise<void> {
  const language = spoken();
  const catalogue = await CATALOGUES[`./${language}.po`]?.();
  i18n.loadAndActivate({ locale: language, locales: "en-GB", messages: catalogue?.messages ?? {} });
  document.documentElement.lang = language === "pseudo" ? "en-XA" : language;
}
