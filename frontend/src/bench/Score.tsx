/** The score: time under boxed letters, a stave for each measure. */
import { useRef, useState, type PointerEvent } from "react";
import type { BenchPage, Finding, Series } from "../api/client";
import { figure, unitOf } from "../shared/format";
import { withEdge, type PhaseName, type Span } from "./phases";
import { useBox } from "./useBox";

/** In the order in which things are put right: placement, corners, chin, stillness, the head. */
const PLACEMENT = [
  "rim_upper_share",
  "hole_to_lip",
  "plate_tilt",
  "mouthpiece_offset",
  "depth",
  "shank_angle",
];
const FACE = ["corner_rise", "mouth_width", "chin_hollow", "lower_red_side", "stillness"];
const HEAD = ["head_roll", "head_nod"];

/** The staves there is room for, and whatever a finding rests on; the head's own only where
 * nothing is placed. */
export function stavesOf(series: Series[], findings: Finding[] = []): Series[] {
  const pick = (ids: string[]) => ids.flatMap((id) => series.filter((s) => s.measure === id));
  const usual = new Set([...PLACEMENT, ...FACE, ...HEAD]);
  const blamed = findings
    .filter((f) => f.verdict === "fault")
    .flatMap((f) => f.evidence.map((e) => e.measure))
    .filter((id) => !usual.has(id));
  const placed = pick(PLACEMENT);
  return [
    ...placed,
    ...pick([...new Set(blamed)]),
    ...pick(FACE),
    ...(placed.length > 0 ? [] : pick(HEAD)),
  ];
}

const LETTERS = 30;
const STAVE = 46;
const GAP = 7;
const LEFT = 104;
const RIGHT = 168;
/** Least height of a stave in the measure's own unit, so that noise stays small. */
const LEAST: Record<string, number> = {
  corner_rise: 14,
  mouth_width: 0.3,
  stillness: 3.6,
  head_roll: 20,
  head_nod: 20,
  rim_upper_share: 0.4,
  hole_to_lip: 10,
  depth: 12,
  shank_angle: 40,
  cheek_out_r: 10,
  cheek_out_l: 10,
  plate_tilt: 16,
  mouthpiece_offset: 0.25,
  chin_hollow: 40,
  lower_red_side: 1,
};

interface Props {
  page: BenchPage;
  frame: number;
  seek: (seconds: number) => void;
  setPhases: (phases: Span[]) => void;
}

type Edge = { name: PhaseName; edge: "start" | "end" };

export function Score({ page, frame, seek, setPhases }: Props) {
  const [holder, box] = useBox<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<Span[] | null>(null);
  const drag = useRef<Edge | "time" | null>(null);
  const last = page.times[page.times.length - 1] ?? 1;
  const width = Math.max(box.width, 420);
  const inner = width - LEFT - RIGHT;
  const x = (seconds: number) => LEFT + (seconds / last) * inner;
  const staves = stavesOf(page.series, page.findings);
  const height = LETTERS + staves.length * (STAVE + GAP) + 2;
  const phases: Span[] = dragged ?? page.phases;

  function secondsAt(event: PointerEvent): number {
    const area = (svg.current as SVGSVGElement).getBoundingClientRect();
    const share = (((event.clientX - area.left) / area.width) * width - LEFT) / inner;
    return Math.min(Math.max(share, 0), 1) * last;
  }

  function begin(event: PointerEvent, what: Edge | "time") {
    event.stopPropagation();
    drag.current = what;
    svg.current?.setPointerCapture(event.pointerId);
    if (what === "time") seek(secondsAt(event));
  }

  const missing = (["rest", "hold"] as const).filter((n) => !phases.some((p) => p.name === n));
  return (
    <section className="score figures" aria-label="Score" ref={holder}>
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        style={{ height }}
        onPointerDown={(event) => begin(event, "time")}
        onPointerMove={(event) => {
          const held = drag.current;
          if (held === "time") seek(secondsAt(event));
          else if (held)
            setDragged(withEdge(page.phases, held.name, held.edge, secondsAt(event), last));
        }}
        onLostPointerCapture={() => {
          drag.current = null;
          if (dragged) setPhases(dragged);
          setDragged(null);
        }}
      >
        {phases.map((phase) => (
          <rect
            key={`${phase.name} ${phase.start}`}
            x={x(phase.start)}
            width={Math.max(x(phase.end) - x(phase.start), 1)}
            y={LETTERS - 4}
            height={height - LETTERS}
            fill="var(--zone)"
            opacity={0.55}
          />
        ))}
        {staves.map((series, row) => (
          <Stave
            key={series.measure}
            series={series}
            page={page}
            frame={frame}
            x={x}
            top={LETTERS + row * (STAVE + GAP)}
            right={width - RIGHT}
            width={width}
          />
        ))}
        {phases.map((phase) => (
          <Letter
            key={`${phase.name} ${phase.start}`}
            phase={phase}
            guessed={page.phases.some(
              (p) => p.name === phase.name && !p.by_teacher && p.confidence < SURE,
            )}
            x={x}
            begin={begin}
          />
        ))}
        {missing.map((name, n) => (
          <g
            key={name}
            role="button"
            tabIndex={0}
            aria-label={`set ${name} here`}
            className="letter"
            style={{ cursor: "pointer" }}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() =>
              setPhases(withEdge(page.phases, name, "start", page.times[frame] ?? 0, last))
            }
            onKeyDown={(event) => {
              if (event.key === "Enter")
                setPhases(withEdge(page.phases, name, "start", page.times[frame] ?? 0, last));
            }}
          >
            <rect
              x={width - RIGHT + 8 + n * 82}
              y={2}
              width={76}
              height={22}
              fill="var(--sheet)"
              stroke="var(--brass)"
              strokeDasharray="4 3"
            />
            <text x={width - RIGHT + 46 + n * 82} y={17.5} fontSize={13} textAnchor="middle">
              set {name}
            </text>
          </g>
        ))}
        <line
          x1={x(page.times[frame] ?? 0)}
          x2={x(page.times[frame] ?? 0)}
          y1={0}
          y2={height}
          stroke="var(--ink)"
          strokeWidth={1.6}
          pointerEvents="none"
        />
      </svg>
    </section>
  );
}

/** A suggestion less sure than this is drawn as a guess. */
const SURE = 0.7;

/** A boxed rehearsal letter; both edges can be dragged. */
function Letter({
  phase,
  guessed,
  x,
  begin,
}: {
  phase: Span;
  guessed: boolean;
  x: (seconds: number) => number;
  begin: (event: PointerEvent, edge: Edge) => void;
}) {
  const from = x(phase.start);
  const to = x(phase.end);
  // A short phase shows its first letter; the whole word is in the tooltip.
  const whole = phase.name.length * 8 + 14;
  const fits = to - from >= whole;
  const box = fits ? whole : 20;
  return (
    <g data-phase={phase.name}>
      <line x1={from} x2={to} y1={25} y2={25} stroke="var(--ink)" strokeWidth={1.4} />
      <rect
        x={from}
        y={2}
        width={box}
        height={21}
        fill="var(--sheet)"
        stroke="var(--ink)"
        strokeWidth={1.4}
        strokeDasharray={guessed ? "3 2" : undefined}
      />
      <text x={from + box / 2} y={17} fontSize={14} fontWeight={650} textAnchor="middle">
        {fits ? phase.name : phase.name.slice(0, 1)}
        {guessed && <title>{`“${phase.name}” is a guess: drag its edges`}</title>}
      </text>
      {(["start", "end"] as const).map((edge) => {
        const at = edge === "start" ? from : to;
        return (
          <g
            key={edge}
            className="letter"
            onPointerDown={(event) => begin(event, { name: phase.name, edge })}
          >
            <title>{`“${phase.name}” ${edge === "start" ? "begins" : "ends"} here: drag`}</title>
            <rect x={at - 8} y={0} width={16} height={30} fill="transparent" data-edge={edge} />
            <path d={`M${at} 20v10`} stroke="var(--ink)" strokeWidth={3} />
          </g>
        );
      })}
    </g>
  );
}

function Stave({
  series,
  page,
  frame,
  x,
  top,
  right,
  width,
}: {
  series: Series;
  page: BenchPage;
  frame: number;
  x: (seconds: number) => number;
  top: number;
  right: number;
  width: number;
}) {
  const [low, high] = range(series);
  const y = (value: number) => top + STAVE - ((value - low) / (high - low)) * STAVE;
  const now = series.value[frame];
  const reading = page.readings.find((r) => r.measure === series.measure && r.phase === "hold");
  const found = page.findings.filter(
    (f) => f.start !== null && f.evidence[0]?.measure === series.measure,
  );
  const edges = [series.low, series.high].filter((v) => v !== null);
  return (
    <g data-stave={series.measure}>
      <title>{`${series.name}: ${series.explains} ${series.note}`}</title>
      <text x={0} y={top + 18} fontSize={15} fontWeight={600}>
        {series.stave}
      </text>
      <text x={0} y={top + 36} fontSize={13} style={{ fill: "var(--faint)" }}>
        {now == null
          ? "no value here"
          : `${figure(now, series.decimals)}${unitOf(series.unit)} here`}
      </text>
      {series.low !== null && series.high !== null && (
        <rect
          x={LEFT}
          width={right - LEFT}
          y={y(series.high)}
          height={y(series.low) - y(series.high)}
          fill="var(--good)"
          opacity={0.09}
        />
      )}
      {edges.map((edge) => (
        <line
          key={edge}
          x1={LEFT}
          x2={right}
          y1={y(edge)}
          y2={y(edge)}
          stroke="var(--good)"
          strokeWidth={1.1}
        />
      ))}
      <line x1={LEFT} x2={right} y1={top + STAVE} y2={top + STAVE} stroke="var(--hairline)" />
      <path d={spread(series, page.times, x, y)} fill="var(--ink)" opacity={0.16} />
      <path
        d={ink(series, page.times, x, y)}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.9}
      />
      {found.map((finding) => (
        <FindingBar key={finding.fault} finding={finding} x={x} y={top - 1} />
      ))}
      {reading && (
        <g>
          <text x={right + 12} y={top + 18} fontSize={15.5} fontWeight={600}>
            {reading.value === null || reading.uncertainty === null
              ? "can't tell"
              : `${figure(reading.value, reading.decimals)} ± ${figure(reading.uncertainty, reading.decimals)}${unitOf(reading.unit)}`}
          </text>
          <text
            x={right + 12}
            y={top + 36}
            fontSize={13}
            fontWeight={reading.verdict === "fault" ? 650 : 450}
            style={{ fill: verdictInk(reading.verdict) }}
          >
            {reading.value === null ? "see the margin" : `${reading.verdict}, in hold`}
          </text>
        </g>
      )}
      <line
        x1={0}
        x2={width}
        y1={top + STAVE + GAP / 2}
        y2={top + STAVE + GAP / 2}
        stroke="var(--hairline)"
        opacity={0.5}
      />
    </g>
  );
}

function verdictInk(verdict: string): string {
  if (verdict === "fault") return "var(--fault)";
  if (verdict === "watch") return "var(--watch)";
  return verdict === "in band" ? "var(--good)" : "var(--faint)";
}

/** A finding above the stave it rests on: a heavy bar with end strokes. */
function FindingBar({
  finding,
  x,
  y,
}: {
  finding: Finding;
  x: (seconds: number) => number;
  y: number;
}) {
  if (finding.start === null || finding.end === null) return null;
  const from = x(finding.start);
  const to = x(finding.end);
  return (
    <path
      d={`M${from} ${y + 5}V${y}H${to}V${y + 5}`}
      fill="none"
      stroke={verdictInk(finding.verdict)}
      strokeWidth={3}
      strokeDasharray={finding.verdict === "fault" ? undefined : "6 4"}
    >
      <title>{finding.name}</title>
    </path>
  );
}

function range(series: Series): [number, number] {
  const values = [...series.value, series.low, series.high].filter((v) => v !== null);
  const low = Math.min(
    ...values,
    series.measure === "stillness" ? 0 : Number.POSITIVE_INFINITY,
  );
  const high = Math.max(...values);
  if (!Number.isFinite(low)) return [0, 1];
  const pad =
    Math.max((LEAST[series.measure] ?? 0) - (high - low), (high - low) * 0.16, 1e-6) / 2;
  return series.measure === "stillness" ? [0, high + 2 * pad] : [low - pad, high + pad];
}

type Map1 = (value: number) => number;

/** Line through the values, broken where there are none. */
function ink(series: Series, times: number[], x: Map1, y: Map1): string {
  let path = "";
  let pen = "M";
  series.value.forEach((value, n) => {
    if (value === null) {
      pen = "M";
      return;
    }
    path += `${pen}${x(times[n] ?? 0).toFixed(1)} ${y(value).toFixed(1)}`;
    pen = "L";
  });
  return path;
}

/** The 95 % band round the line. */
function spread(series: Series, times: number[], x: Map1, y: Map1): string {
  const parts: string[] = [];
  let upper: string[] = [];
  let lower: string[] = [];
  const finish = () => {
    if (upper.length > 1) parts.push(`M${upper.join("L")}L${lower.reverse().join("L")}Z`);
    upper = [];
    lower = [];
  };
  series.value.forEach((value, n) => {
    const half = series.spread[n];
    if (value === null || !half) {
      finish();
      return;
    }
    const at = x(times[n] ?? 0).toFixed(1);
    upper.push(`${at} ${y(value + half).toFixed(1)}`);
    lower.push(`${at} ${y(value - half).toFixed(1)}`);
  });
  finish();
  return parts.join("");
}
