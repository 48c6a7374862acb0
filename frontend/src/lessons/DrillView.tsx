/** A drill folded under its name: steps, pass mark, and counted aloud where it can be. */
import type { ReactNode } from "react";
import type { DrillCard } from "../api/lessons";
import { counted, continued } from "../shared/format";
import { DrillPlayer } from "../plan/DrillPlayer";
import { t } from "../shared/words";

interface Props {
  drill: Pick<
    DrillCard,
    "name" | "minutes" | "steps" | "pass_mark" | "caution" | "counting"
  > & { levels?: string[] };
  children?: ReactNode;
  /** Unfolded from the start. */
  open?: boolean;
}

export function DrillView({ drill, children, open }: Props) {
  return (
    <details className="finding py-2" open={open}>
      <summary>
        {drill.name}, {counted(drill.minutes, "minute")}
      </summary>
      <ol className="mt-2 mb-1">
        {drill.steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      <p className="mb-1">
        {t("Passed when: {{mark}}", {
          mark: continued(drill.pass_mark),
        })}
      </p>
      {drill.levels && drill.levels.length > 0 && (
        <p className="mb-1">{t("Harder: {{levels}}.", { levels: drill.levels.join(" → ") })}</p>
      )}
      {drill.caution && <p className="caution mb-0">{drill.caution}</p>}
      {drill.counting && <DrillPlayer name={drill.name} {...drill.counting} />}
      {children}
    </details>
  );
}
