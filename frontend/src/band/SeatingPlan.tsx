/** The band as it sits; each chair tells its state by word, shape and line. */
import { Link } from "react-router";
import type { BandPage, Chair } from "../api/client";
import { Glyph, chairWords } from "../shared/glyphs";
import { firstName } from "../shared/projector";
import { fits, type Filter } from "./filters";
import { STAGE, arcPath, seatingPlan } from "./seating";

/** A waiting take is opened at once; anything else begins at the student. */
export function chairAddress(chair: Chair): string {
  return chair.opens && chair.take ? `/takes/${chair.take.id}` : `/students/${chair.id}`;
}

interface Props {
  sections: BandPage["sections"];
  filter: Filter;
}

/** Everybody keeps the own place: who does not fit the filter only steps back. */
export function SeatingPlan({ sections, filter }: Props) {
  const plan = seatingPlan(sections);
  return (
    <div className="stage">
      <svg className="arcs" viewBox={`0 0 ${STAGE.width} ${STAGE.height}`} aria-hidden>
        {plan.arcs.map((arc) => (
          <g key={arc.radius}>
            <path
              d={arcPath(arc.radius)}
              fill="none"
              stroke="var(--hairline)"
              strokeWidth="1.5"
            />
            {arc.label.map((label) => (
              <text
                key={label.text}
                x={label.x}
                y={label.y}
                textAnchor="middle"
                fontSize="20"
                fontStyle="italic"
                fontFamily="Newsreader Variable, serif"
                fill="var(--faint)"
                transform={`rotate(${label.angle} ${label.x} ${label.y})`}
              >
                {label.text}
              </text>
            ))}
          </g>
        ))}
        <path d="M470 680v-26h60v26 M484 654l6-16h20l6 16" fill="none" stroke="var(--faint)" />
      </svg>
      {plan.seats.map(({ chair, section, x, y }) => (
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
              ? `Being analysed ${Math.round(chair.take.share * 100)} %`
              : chairWords(chair)}
          </span>
        </Link>
      ))}
    </div>
  );
}
