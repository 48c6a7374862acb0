/** What the phases of a take are called. */
import { t } from "./words";

const WORDS: Record<string, string> = {
  rest: t("rest"),
  form: t("form"),
  place: t("place"),
  breathe: t("breathe"),
  start: t("start"),
  hold: t("hold"),
  change: t("change"),
  release: t("release"),
};

export function phaseWords(name: string): string {
  return WORDS[name] ?? name;
}
