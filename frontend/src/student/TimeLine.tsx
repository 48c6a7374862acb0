/** A student's takes as they lie in time, with the weeks of the plans under them. */
import { viewWords } from "../shared/views";
import { Link } from "react-router";
import type { Plan, TakeSummary } from "../api/client";
import { TakeDrawing } from "../shared/drawing/TakeDrawing";
import { noon, shortDay } from "../shared/format";
import { Glyph } from "../shared/glyphs";
import { spread } from "./spread";
import { resultWords } from "./result";
import { t } from "../shared/words";

/** Width of one take on the line, and how many at most: the newest. */
const WIDE = 108;
const MOST = 8;

interface Props {
  takes: TakeSummary[];
  plans: Plan[];
}

export function TimeLine({ takes, plans }: Props) {
  const shown = takes.slice(0, MOST).reverse();
  if (shown.length < 2) return null;
  const times = shown.map((take) => noon(take.filmed_on));
  const ends = plans.flatMap((plan) => plan.days.slice(-1)).map((d) => noon(d.date));
  const first = times[0] ?? 0;
  const last = Math.max(...times, ...ends.filter((end) => end > first));
  const at = (time: number) => (time - first) / Math.max(last - first, 1);
  const places = spread(times.map(at), WIDE / 100 / 8.2);
  return (
    <div className="time-line" aria-label={t("Takes in time")} role="group">
      <div className="line">
        {plans.map((plan) => {
          const from = Math.max(at(noon(plan.started_on)), 0);
          const to = Math.min(at(noon(plan.days.at(-1)?.date ?? plan.started_on)), 1);
          return to > from ? (
            <span
              key={plan.id}
              className="weeks"
              title={t("Two weeks on: {{name}}", { name: plan.name })}
              style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }}
            />
          ) : null;
        })}
        {times.map((time, n) => (
          <span key={n} className="day" style={{ left: `${at(time) * 100}%` }} />
        ))}
      </div>
      {shown.map((take, n) => {
        const [shape, words] = resultWords(take);
        return (
          <Link
            key={take.id}
            to={`/takes/${take.id}`}
            className="stop"
            style={{ left: `${(places[n] ?? 0) * 100}%` }}
          >
            <span className="visually-hidden">{viewWords(take.view)}, </span>
            <span className="small-drawing">
              <TakeDrawing take={take} width={84} height={58} />
            </span>
            <span className="figures">{shortDay(noon(take.filmed_on))}</span>
            <span className="kicker">
              <Glyph shape={shape} size={12} /> {words}
            </span>
          </Link>
        );
      })}
    </div>
  );
}
