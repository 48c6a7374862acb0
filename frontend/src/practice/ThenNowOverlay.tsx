/** The student's mouth now, over the one before: lines alone, or pictures where the teacher shows
 * them. */
import type { ThenNow } from "../api/practice";
import { Layout, mouthOf } from "../shared/drawing/figure";
import { outlineOf } from "../shared/drawing/outline";
import { noon, shortDay } from "../shared/format";
import { t } from "../shared/words";

const WIDTH = 350;
const TALLEST = 300;
const MARGIN = { left: 16, right: 16, top: 16, bottom: 16 };

export function ThenNowOverlay({ shown }: { shown: ThenNow }) {
  const mouths = [mouthOf(shown.then), mouthOf(shown.now)];
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = shown.drawing.box;
  const height = Math.min((WIDTH * (y1 - y0)) / (x1 - x0), TALLEST);
  const layout = new Layout(shown.drawing, WIDTH, height, MARGIN);
  const [then, now] = [shown.then_on, shown.now_on].map((on) => shortDay(noon(on)));
  return (
    <section aria-labelledby="then-now-title">
      <h2 id="then-now-title">{t("Then and now")}</h2>
      {shown.words && <p className="fs-5">{shown.words}</p>}
      {shown.pictures.length > 0 && (
        <div className="beside">
          {shown.pictures.map((picture, n) => (
            <figure key={n}>
              <img
                src={picture}
                alt={
                  n === 0
                    ? t("Your mouth on {{then}}", { then })
                    : t("Your mouth on {{now}}", { now })
                }
              />
              <figcaption>{n === 0 ? then : now}</figcaption>
            </figure>
          ))}
        </div>
      )}
      <svg
        className="drawing"
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={t("Your mouth on {{now}}, over a dashed line of {{then}}", { now, then })}
      >
        {mouths.map((mouth, n) => (
          <Lines key={n} paths={outlineOf(layout, mouth)} then={n === 0} />
        ))}
      </svg>
      <p className="kicker mb-0">{t("Dashed: {{then}}. Dark: {{now}}.", { then, now })}</p>
    </section>
  );
}

function Lines({ paths, then }: { paths: string[]; then: boolean }) {
  return (
    <g
      fill="none"
      strokeLinecap="round"
      stroke={then ? "var(--faint)" : "var(--ink)"}
      strokeWidth={then ? 2 : 3}
      strokeDasharray={then ? "7 5" : undefined}
    >
      {paths.map((d, n) => (
        <path key={n} d={d} />
      ))}
    </g>
  );
}
