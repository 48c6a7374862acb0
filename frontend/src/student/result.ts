/** What a take says in a word, with the shape that goes with it. */
import type { TakeSummary } from "../api/client";
import { t } from "../shared/words";

export function resultWords(take: TakeSummary): [shape: string, words: string] {
  if (take.state === "waiting" || take.state === "working")
    return ["being-read", t("Being analysed")];
  if (take.state === "needs-marks") return ["needs-marks", t("Place marks")];
  if (take.state === "failed") return ["failed", t("Can't be analysed")];
  if (take.focus_name)
    return [
      "focus",
      `${take.focus_name}${take.answer === "confirmed" ? t(", confirmed") : ""}`,
    ];
  if (take.result === "cant-tell") return ["cant-tell", t("Can't tell")];
  if (take.result === "watch") return ["watch", t("Something to watch")];
  if (take.result === "unchecked") return ["unchecked", take.left];
  return ["clear", take.headline || t("Nothing to correct")];
}
