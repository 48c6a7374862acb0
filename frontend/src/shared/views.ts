/** What the sides a take is filmed from are called. */
import { t } from "./words";

const WORDS: Record<string, string> = { front: t("front"), side: t("side") };

export function viewWords(view: string): string {
  return WORDS[view] ?? view;
}
