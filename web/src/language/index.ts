import { i18n } from "@lingui/core";

const KEPT = "uvrix-language";
const CATALOGUES = {
  en: () => import("./en.po"),
  // made of the English: a text that stays plain in it stands in no catalogue
  pseudo: () => import("./pseudo.po"),
};
type Language = keyof typeof CATALOGUES;

function kept(): Language {
  const language = localStorage.getItem(KEPT) ?? "";
  return language in CATALOGUES ? (language as Language) : "en";
}

/** Take up the shop's language, as this browser knows it from its last start. */
export async function speak(): Promise<void> {
  const language = kept();
  const { messages } = await CATALOGUES[language]();
  i18n.loadAndActivate({ locale: language, locales: "en-GB", messages });
  document.documentElement.lang = language === "pseudo" ? "en-XA" : language;
}
