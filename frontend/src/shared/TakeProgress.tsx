/** How far the worker is with a take: its own report, not a guess. */
import type { TakeSummary } from "../api/client";
import { Progress } from "./Progress";

const STAGES: Record<string, string> = {
  reading: "Reading frames",
  steadying: "Stabilising the head",
  following: "Tracking marks",
  "looking for edges": "Finding edges",
  judging: "Measuring",
};

export function TakeProgress({ take }: { take: TakeSummary }) {
  const words =
    take.state === "waiting"
      ? "Waiting"
      : `${STAGES[take.stage] ?? "Starting"}, ${Math.round(take.share * 100)} %`;
  return (
    <div className="progress-line" role="status">
      <span>{words}. You can leave this page; it continues.</span>
      <Progress
        percent={take.state === "waiting" ? 0 : take.share * 100}
        label="Analysing the take"
      />
    </div>
  );
}
