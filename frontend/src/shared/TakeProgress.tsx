/** How far the worker is with a take: its own report, not a guess. */
import { ProgressBar } from "react-bootstrap";
import type { TakeSummary } from "../api/client";

const STAGES: Record<string, string> = {
  reading: "Reading the frames",
  steadying: "Holding the head still",
  following: "Following the marks",
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
      <ProgressBar
        now={take.state === "waiting" ? 0 : take.share * 100}
        aria-label="Reading the take"
      />
    </div>
  );
}
