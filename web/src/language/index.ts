import { i18n } from "@lingui/core";

const CATALOGUES = {
  en: () => import("./en.po"),
  // made of the English: a text that stays plain in it stands in no catalogue
  pseudo: () => import("./pseudo.po"),
};
type Language = keyof typeof CATALOGUES;

/** The language that the server speaks, as it wrote it into the page. */
function spoken(): Language {
  const language = document.documentElement.dataset.language ?? "";
  return language in CATALOGUES ? (language as Language) : "en";
}

/** Take up the shop's language, before anything is shown. */
export async function speak(): Promise<void> {
  const language = spoken();
  const { messages } = await CATALOGUES[language]();
  i18n.loadAndActivate({ locale: language, locales: "en-GB", messages });
  document.documentElement.lang = language === "pseudo" ? "en-XA" : language;
}
