/** How far the worker is with a take: its own report, not a guess. */
import type { TakeSummary } from "../api/client";
import { Progress } from "./Progress";
import { t } from "./words";

const STAGES: Record<string, string> = {
  reading: t("Reading frames"),
  steadying: t("Stabilising the head"),
  following: t("Tracking marks"),
  "looking for edges": t("Finding edges"),
  judging: t("Measuring"),
};

export function TakeProgress({ take }: { take: TakeSummary }) {
  const words =
    take.state === "waiting"
      ? t("Waiting")
      : `${STAGES[take.stage] ?? t("Starting")}, ${Math.round(take.share * 100)} %`;
  return (
    <div className="progress-line" role="status">
      <span>{t("{{words}}. You can leave this page; it continues.", { words })}</span>
      <Progress
        percent={take.state === "waiting" ? 0 : take.share * 100}
        label={t("Analysing the take")}
      />
    </div>
  );
}
