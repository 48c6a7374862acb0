/** The score: time under boxed letters, a stave for each measure. */
import { fixed } from "../shared/format";
import { phaseWords } from "../shared/phases";
import { memo, useCallback, useMemo, useRef, useState, type PointerEvent } from "react";
import type { BenchPage, Phase, Series } from "../api/client";
import { Letters, MissingLetters, type Edge } from "./Letters";
import { InkDot, Stave, valueHere } from "./Stave";
import { frameAt, withEdge, type PhaseName, type Span } from "./phases";
import { GAP, LETTERS, secondsAt, topOf, xOf, type Frame } from "./staves";
import { useBox } from "../shared/useBox";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  frame: number;
  setFrame: (frame: number) => void;
  setPhases: (phases: Span[]) => void;
  /** All staves, not only those of first sight. */
  all: boolean;
  setAll: (all: boolean) => void;
}

/** Height of a stave, px: fewer of them may be taller. */
const TALL = 46;
const LOW = 37;
const MANY = 5;
/** Height of the row of tones below the staves, px. */
const TONES = 22;

export const Score = memo(function Score({
  page,
  frame,
  setFrame,
  setPhases,
  all,
  setAll,
}: Props) {
  const [holder, box] = useBox<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<Span[] | null>(null);
  /** The frame under the pointer, for reading values without moving the playhead. */
  const [over, setOver] = useState<number | null>(null);
  const drag = useRef<Edge | "time" | null>(null);
  const last = page.times[page.times.length - 1] ?? 1;
  const staves = useMemo(() => page.series.filter((s) => s.shown || all), [page.series, all]);
  const hidden = page.series.filter((s) => !s.shown).length;
  const stave = staves.length >= MANY ? LOW : TALL;
  const width = Math.max(box.width, 420);
  const place: Frame = useMemo(() => ({ width, stave, last }), [width, stave, last]);
  const several = page.tones.length > 1;
  const height = LETTERS + staves.length * (stave + GAP) + 2 + (several ? TONES : 0);
  const phases: Span[] = dragged ?? page.phases;
  const looked = over ?? frame;

  const at = useCallback(
    (event: PointerEvent): number => {
      const area = (svg.current as SVGSVGElement).getBoundingClientRect();
      return secondsAt(place, ((event.clientX - area.left) / area.width) * place.width);
    },
    [place],
  );

  const begin = useCallback((event: PointerEvent, what: Edge | "time") => {
    event.stopPropagation();
    drag.current = what;
    svg.current?.setPointerCapture(event.pointerId);
  }, []);

  return (
    <section className="score figures" aria-label={t("Score")}>
      <div ref={holder} className="staves">
        <svg
          ref={svg}
          viewBox={`0 0 ${width} ${height}`}
          style={{ height }}
          onPointerDown={(event) => {
            begin(event, "time");
            setFrame(frameAt(page.times, at(event)));
          }}
          onPointerMove={(event) => {
            const held = drag.current;
            if (held === "time") setFrame(frameAt(page.times, at(event)));
            else if (held)
              setDragged(
                withEdge(page.phases, held.name, held.edge, at(event), last, held.nth),
              );
            else setOver(frameAt(page.times, at(event)));
          }}
          onPointerLeave={() => setOver(null)}
          onLostPointerCapture={() => {
            drag.current = null;
            if (dragged) setPhases(dragged);
            setDragged(null);
          }}
        >
          <Grounds phases={phases} place={place} height={height} />
          {staves.map((series, row) => (
            <Stave key={series.measure} series={series} page={page} row={row} place={place} />
          ))}
          {several && <Tones tones={page.tones} place={place} top={height - TONES} />}
          <Letters phases={phases} known={page.phases} place={place} begin={begin} />
          <MissingLetters
            phases={phases}
            place={place}
            set={(name: PhaseName) =>
              setPhases(withEdge(page.phases, name, "start", page.times[frame] ?? 0, last))
            }
          />
          <Here staves={staves} frame={looked} times={page.times} place={place} />
          <Line x={xOf(place, page.times[frame] ?? 0)} height={height} />
          {over !== null && over !== frame && (
            <Line x={xOf(place, page.times[over] ?? 0)} height={height} faint />
          )}
        </svg>
      </div>
      <Playhead page={page} staves={staves} frame={frame} setFrame={setFrame} place={place} />
      {hidden > 0 && (
        <button type="button" className="more-staves" onClick={() => setAll(!all)}>
          {all ? t("Fewer measurements") : t("{{hidden}} more measurements", { hidden })}
        </button>
      )}
    </section>
  );
});

/** The phases as grounds behind the staves. */
const Grounds = memo(function Grounds({
  phases,
  place,
  height,
}: {
  phases: Pick<Phase, "name" | "start" | "end">[];
  place: Frame;
  height: number;
}) {
  // A phase may come more than once: ten placings make ten letters.
  return phases.map((phase, n) => (
    <rect
      key={n}
      x={xOf(place, phase.start)}
      width={Math.max(xOf(place, phase.end) - xOf(place, phase.start), 1)}
      y={LETTERS - 4}
      height={height - LETTERS}
      fill="var(--zone)"
      opacity={0.55}
    />
  ));
});

/** A bracket below each tone, with its note where there is room. */
const Tones = memo(function Tones({
  tones,
  place,
  top,
}: {
  tones: BenchPage["tones"];
  place: Frame;
  top: number;
}) {
  return (
    <g pointerEvents="none" data-tones={tones.length}>
      <text x={0} y={top + 15} fontSize={13} style={{ fill: "var(--faint)" }}>
        {t("Tones")}
      </text>
      {tones.map(({ start, end, note }) => {
        const [from, to] = [xOf(place, start), xOf(place, end)];
        return (
          <g key={start}>
            <path
              d={`M${from} ${top + 1}v4H${to}v-4`}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.4}
            />
            {to - from > note.length * 8 && (
              <text x={(from + to) / 2} y={top + 18} fontSize={12} textAnchor="middle">
                {note}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

function Line({ x, height, faint = false }: { x: number; height: number; faint?: boolean }) {
  return (
    <line
      x1={x}
      x2={x}
      y1={0}
      y2={height}
      stroke={faint ? "var(--brass)" : "var(--ink)"}
      strokeWidth={faint ? 1.2 : 1.6}
      strokeDasharray={faint ? "3 3" : undefined}
      pointerEvents="none"
    />
  );
}

/** Values at the playhead, or under the pointer. */
function Here({
  staves,
  frame,
  times,
  place,
}: {
  staves: Series[];
  frame: number;
  times: number[];
  place: Frame;
}) {
  return (
    <g pointerEvents="none">
      {staves.map((series, row) => (
        <g key={series.measure} data-here={series.measure}>
          <text x={0} y={topOf(place, row) + 34} fontSize={13} style={{ fill: "var(--faint)" }}>
            {valueHere(series, frame)}
          </text>
          <InkDot
            series={series}
            row={row}
            frame={frame}
            seconds={times[frame] ?? 0}
            place={place}
          />
        </g>
      ))}
    </g>
  );
}

/** The playhead for keyboard and screen reader: left and right step, up and down change the stave. */
function Playhead({
  page,
  staves,
  frame,
  setFrame,
  place,
}: {
  page: BenchPage;
  staves: Series[];
  frame: number;
  setFrame: (frame: number) => void;
  place: Frame;
}) {
  const [row, setRow] = useState(0);
  const series = staves[Math.min(row, staves.length - 1)];
  const last = page.times.length - 1;
  if (!series) return null;
  const phase = page.phases.find((p) => {
    const seconds = page.times[frame] ?? 0;
    return seconds >= p.start && seconds <= p.end;
  });
  const moves: Record<string, () => void> = {
    ArrowLeft: () => setFrame(frame - 1),
    ArrowRight: () => setFrame(frame + 1),
    PageDown: () => setFrame(frame - 10),
    PageUp: () => setFrame(frame + 10),
    Home: () => setFrame(0),
    End: () => setFrame(last),
    ArrowUp: () => setRow(Math.max(Math.min(row, staves.length - 1) - 1, 0)),
    ArrowDown: () => setRow(Math.min(row + 1, staves.length - 1)),
  };
  return (
    <div
      className="playhead"
      style={{
        left: 0,
        top: topOf(place, Math.min(row, staves.length - 1)) - 2,
        height: place.stave + 4,
      }}
      role="slider"
      tabIndex={0}
      aria-label={t("Playhead on {{name}}", { name: series.name })}
      aria-valuemin={0}
      aria-valuemax={last}
      aria-valuenow={frame}
      aria-valuetext={t("{{seconds}} seconds, {{phase}}: {{value}}", {
        seconds: fixed(page.times[frame] ?? 0, 2),
        phase: phase ? phaseWords(phase.name) : t("no phase"),
        value: valueHere(series, frame),
      })}
      onKeyDown={(event) => {
        const move = event.altKey || event.ctrlKey ? undefined : moves[event.key];
        if (!move) return;
        event.preventDefault();
        event.stopPropagation();
        move();
      }}
    />
  );
}
