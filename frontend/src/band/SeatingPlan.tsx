/** The band as it sits; each chair tells its state by word, shape and line. */
import { Link } from "react-router";
import type { BandPage, Chair } from "../api/client";
import { counted } from "../shared/format";
import { Glyph, chairWords } from "../shared/glyphs";
import { firstName } from "../shared/projector";
import { fits, type Filter } from "./filters";
import { WIDTH, arcPath, seatingPlan } from "./seating";
import { t } from "../shared/words";

/** A waiting take is opened at once; anything else begins at the student. */
export function chairAddress(chair: Chair): string {
  return chair.opens && chair.take ? `/takes/${chair.take.id}` : `/students/${chair.id}`;
}

/** Narrower than this, rem, and a name can't be read: the plan scrolls sideways instead. */
const LEAST_CHAIR = 5.7;

interface Props {
  sections: BandPage["sections"];
  filter: Filter;
  /** Sections that are shown as one chair. */
  folded: string[];
  fold: (section: string) => void;
}

/** Everybody keeps the own place: who does not fit the filter only steps back. */
export function SeatingPlan({ sections, filter, folded, fold }: Props) {
  const plan = seatingPlan(
    sections.map((one) =>
      folded.includes(one.name) ? { ...one, chairs: one.chairs.slice(0, 1) } : one,
    ),
  );
  const sizes = new Map(sections.map((one) => [one.name, one.chairs.length]));
  return (
    <div className="stage-scroll" tabIndex={0} role="group" aria-label={t("Seating plan")}>
      <div className="stage" style={{ minWidth: `${LEAST_CHAIR / plan.chairWidth}rem` }}>
        <svg className="arcs" viewBox={`0 0 ${WIDTH} ${plan.height}`} aria-hidden>
          {plan.arcs.map((arc) => (
            <g key={arc.radius}>
              <path
                d={arcPath(plan, arc.radius)}
                fill="none"
                stroke="var(--hairline)"
                strokeWidth="1.5"
              />
            </g>
          ))}
          <path
            d={`M470 ${plan.height}v-26h60v26m-46-26l6-16h20l6 16`}
            fill="none"
            stroke="var(--faint)"
          />
        </svg>
        {plan.arcs.flatMap((arc) =>
          arc.label.map((label) => (
            <button
              key={`${arc.radius} ${label.text}`}
              type="button"
              className="section-name"
              aria-expanded={!folded.includes(label.text)}
              title={folded.includes(label.text) ? t("Show all") : t("Fold")}
              style={{
                left: `${(label.x / WIDTH) * 100}%`,
                top: `${(label.y / plan.height) * 100}%`,
                rotate: `${label.angle}deg`,
              }}
              onClick={() => fold(label.text)}
            >
              {label.text}
            </button>
          )),
        )}
        {plan.seats.map(({ chair, section, x, y }) =>
          folded.includes(section) ? (
            <button
              key={chair.id}
              type="button"
              className="chair folded"
              style={{
                left: `${x * 100}%`,
                top: `${y * 100}%`,
                width: `${plan.chairWidth * 100}%`,
              }}
              onClick={() => fold(section)}
            >
              <span className="name">{counted(sizes.get(section) ?? 0, "student")}</span>
              <span className="what">{t("show")}</span>
            </button>
          ) : (
            <Link
              key={chair.id}
              to={chairAddress(chair)}
              className={`chair ${chair.state}${fits(chair, section, filter) ? "" : " back"}`}
              style={{
                left: `${x * 100}%`,
                top: `${y * 100}%`,
                width: `${plan.chairWidth * 100}%`,
              }}
            >
              <span className="name">
                {firstName(chair.name)}
                <span className="visually-hidden">
                  {chair.name.slice(firstName(chair.name).length)}, {section}:
                </span>
              </span>
              <span className={`what ${chair.state}`}>
                <Glyph shape={chair.state} size={13} />
                {chair.state === "being-read" && chair.take
                  ? t("Being analysed {{share}} %", {
                      share: Math.round(chair.take.share * 100),
                    })
                  : chairWords(chair)}
              </span>
            </Link>
          ),
        )}
      </div>
    </div>
  );
}
