/** How far the worker is with a take: its own report, not a guess. */
import type { TakeSummary } from "../api/client";
import { Progress } from "./Progress";

const STAGES: Record<string, string> = {
  reading: "Reading the frames",
  steadying: "Holding the head still",
  following: "Following the marks",
  "looking for edges": "Looking for edges",
  judging: "Measuring",
};

export function TakeProgress({ take }: { take: TakeSummary }) {
  const words =
    take.state === "waiting"
      ? "Waiting for its turn"
      : `${STAGES[take.stage] ?? "Starting"}, ${Math.round(take.share * 100)} %`;
  return (
    <div className="progress-line" role="status">
      <span>{words}. You may leave this page; it goes on.</span>
      <Progress
        percent={take.state === "waiting" ? 0 : take.share * 100}
        label="Reading the take"
      />
    </div>
  );
}
