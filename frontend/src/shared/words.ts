/** All that a user reads goes through `t`. English is the key and the words; another language is a
 * table from key to words in `src/words`. What is counted has its plural forms there.
 *
 * The language is chosen before the pages are loaded, so that constants may hold words too.
 */
import i18next from "i18next";
import { initReactI18next } from "react-i18next";
import english from "../words/en.json";

void i18next.use(initReactI18next).init({
  lng: "en",
  fallbackLng: "en",
  resources: { en: { translation: english } },
  // Keys are sentences: dots and colons mean nothing in them.
  keySeparator: false,
  nsSeparator: false,
  // React escapes.
  interpolation: { escapeValue: false },
  initAsync: false,
});

export const t = i18next.t;

/** Languages there is a table for. */
const TABLES: Record<string, () => Promise<{ default: Record<string, string> }>> = {
  de: () => import("../words/de.json"),
};

/** Speak a language from now on; English where there is no table for it. */
export async function speak(language: string): Promise<void> {
  const table = TABLES[language];
  if (!table) return;
  i18next.addResourceBundle(language, "translation", (await table()).default);
  await i18next.changeLanguage(language);
}

/** The language of dates and figures. */
export function locale(): string | undefined {
  return i18next.language === "en" ? undefined : i18next.language;
}
