/** The measured drawing: the mouth redrawn to scale over the rest face, with its dimensions. */
import type { Reading, Schemas } from "../api/client";
import { figure, unitOf } from "./format";

type Drawing = Schemas["FrontDrawing"];
type Place = readonly [number, number];

const WIDTH = 400;
const HEIGHT = 206;
/** Screen units to a rest mouth width, and where the middle of the lips lies. */
const SCALE = 246;
const MIDDLE: Place = [WIDTH / 2, 78];

function at(point: readonly number[] | undefined): Place | null {
  const [x, y] = point ?? [];
  return x === undefined || y === undefined
    ? null
    : [MIDDLE[0] + x * SCALE, MIDDLE[1] - y * SCALE];
}

/** A smooth line through points (Catmull-Rom as Bézier pieces). */
export function smooth(points: Place[]): string {
  const get = (n: number) => points[Math.min(Math.max(n, 0), points.length - 1)] as Place;
  let path = `M${get(0)[0].toFixed(1)} ${get(0)[1].toFixed(1)}`;
  for (let n = 0; n < points.length - 1; n++) {
    const [a, b, c, d] = [get(n - 1), get(n), get(n + 1), get(n + 2)];
    const first = [b[0] + (c[0] - a[0]) / 6, b[1] + (c[1] - a[1]) / 6];
    const second = [c[0] - (d[0] - b[0]) / 6, c[1] - (d[1] - b[1]) / 6];
    path += `C${[...first, ...second, ...c].map((v) => v.toFixed(1)).join(" ")}`;
  }
  return path;
}

/** Upper border, lower border and the line between, as far as their points are known. */
function lips(shape: Drawing["rest"]): string[] {
  const get = (name: string) => (shape.covered.includes(name) ? null : at(shape.points[name]));
  const line = (...names: string[]) => {
    const points = names.map(get).filter((p) => p !== null);
    return points.length === names.length ? [smooth(points)] : [];
  };
  return [
    ...line("ch_r", "cph_r", "ls", "cph_l", "ch_l"),
    ...line("ch_r", "li", "ch_l"),
    ...line("ch_r", "sto_s", "ch_l"),
  ];
}

interface Props {
  drawing: Drawing;
  readings: Reading[];
  phase: string;
}

export function MeasuredDrawing({ drawing, readings, phase }: Props) {
  const reading = (measure: string) =>
    readings.find((r) => r.measure === measure && r.phase === phase);
  const [right, left] = [at(drawing.now.points.ch_r), at(drawing.now.points.ch_l)];
  const middle = at(drawing.middle);
  if (!right || !left || !middle) return null;
  const width = reading("mouth_width");
  const rise = reading("corner_rise");
  const low = HEIGHT - 30;
  // A large rim reaches above the sheet: the sheet then begins higher.
  const rimTop = drawing.rim
    ? at([drawing.rim[0] ?? 0, (drawing.rim[1] ?? 0) + (drawing.rim[3] ?? 0)])
    : null;
  const top = rimTop ? Math.min(0, Math.floor(rimTop[1]) - 10) : 0;
  const covered = drawing.now.covered.includes("ls") && !drawing.rim;
  const share = reading("rim_upper_share");
  const { rim: rimZone, ...zones } = drawing.zones;
  const words = [
    rise?.value != null && `corners ${figure(rise.value, 1)} degrees above rest`,
    width?.value != null && `mouth ${figure(width.value, 2)} of its rest width`,
    share?.value != null && `${figure(share.value, 2)} of the rim on the upper lip`,
  ].filter(Boolean);
  return (
    <svg
      className="drawing figures"
      viewBox={`0 ${top} ${WIDTH} ${HEIGHT - top}`}
      role="img"
      aria-label={`Measured drawing of the mouth in ${phase}: ${words.join(", ")}`}
    >
      {Object.entries(zones).map(([name, corners]) => (
        <polygon
          key={name}
          points={corners.map((c) => at(c)?.join(",")).join(" ")}
          fill="var(--good)"
          fillOpacity={0.16}
          stroke="var(--good)"
          strokeOpacity={0.6}
        />
      ))}
      <g fill="none" stroke="var(--faint)" strokeWidth={1.1} strokeDasharray="3 3">
        {lips(drawing.rest).map((path) => (
          <path key={path} d={path} />
        ))}
      </g>
      <g fill="none" stroke="var(--ink)" strokeWidth={2.2} strokeLinejoin="round">
        {lips(drawing.now).map((path) => (
          <path key={path} d={path} />
        ))}
      </g>
      {(
        [
          ["corner_rise_r", right, -1],
          ["corner_rise_l", left, 1],
        ] as const
      ).map(([measure, corner, side]) => (
        <Rise
          key={measure}
          from={middle}
          corner={corner}
          side={side}
          reading={reading(measure)}
          heavy={rise?.verdict === "fault"}
        />
      ))}
      {drawing.rim && (
        <Rim
          rim={drawing.rim}
          zone={rimZone}
          line={drawing.lip_line}
          share={share}
          middle={middle[0]}
        />
      )}
      {covered && (
        <g>
          <circle
            cx={middle[0]}
            cy={middle[1]}
            r={40}
            fill="var(--paper)"
            stroke="var(--faint)"
          />
          <text
            x={middle[0]}
            y={middle[1] + 5}
            textAnchor="middle"
            fontSize={14}
            fill="var(--faint)"
          >
            covered
          </text>
        </g>
      )}
      {width?.value != null && (
        <g stroke="var(--ink)" strokeWidth={width.verdict === "fault" ? 2.6 : 1}>
          {[right, left].map(([x, y]) => (
            <path key={x} d={`M${x} ${y + 8}V${low + 6}`} strokeWidth={0.8} opacity={0.6} />
          ))}
          <path d={`M${right[0]} ${low}H${left[0]}`} />
          {[right, left].map(([x]) => (
            <path key={x} d={`M${x - 5} ${low + 5}l10 -10`} strokeWidth={1.6} />
          ))}
          <text
            x={(right[0] + left[0]) / 2}
            y={low + 22}
            textAnchor="middle"
            fontSize={16}
            fontWeight={width.verdict === "fault" ? 700 : 500}
            fill="var(--ink)"
            stroke="none"
          >
            {figure(width.value, 2)} of rest
          </text>
        </g>
      )}
    </svg>
  );
}

/** The rim over the line of the lips, with the part of it where the school wants that line. */
function Rim({
  rim,
  zone,
  line,
  share,
  middle,
}: {
  rim: readonly number[];
  zone: readonly (readonly number[])[] | undefined;
  line: number;
  share: Reading | undefined;
  middle: number;
}) {
  const centre = at(rim);
  const lips = at([0, line]);
  const [, , wide = 0, tall = 0] = rim;
  if (!centre || !lips) return null;
  const heavy = share?.verdict === "fault";
  const half = wide * SCALE;
  return (
    <g>
      <ellipse
        cx={centre[0]}
        cy={centre[1]}
        rx={half}
        ry={tall * SCALE}
        fill="var(--paper)"
        stroke="var(--brass)"
        strokeWidth={heavy ? 3.4 : 2}
      />
      {zone && (
        <polygon
          points={zone.map((c) => at(c)?.join(",")).join(" ")}
          fill="var(--good)"
          fillOpacity={0.22}
        />
      )}
      <path
        d={`M${centre[0] - half * 0.86} ${lips[1]}H${centre[0] + half * 0.86}`}
        stroke="var(--ink)"
        strokeWidth={heavy ? 2.4 : 1.4}
        strokeDasharray="6 3"
      />
      <path
        d={`M${middle} ${centre[1] - tall * SCALE * 0.98}V${centre[1] + tall * SCALE * 0.98}`}
        stroke="var(--faint)"
        strokeWidth={0.8}
        strokeDasharray="8 3 2 3"
      />
      {share?.value != null && (
        <text
          x={centre[0] + half * 0.1}
          y={(centre[1] - tall * SCALE + lips[1]) / 2 + 5}
          textAnchor="start"
          fontSize={16}
          fontWeight={heavy ? 700 : 500}
          fill="var(--ink)"
        >
          {figure(share.value, 2)}
        </text>
      )}
    </g>
  );
}

/** How high a corner stands, seen from the middle of the lips. */
function Rise({
  from,
  corner,
  side,
  reading,
  heavy,
}: {
  from: Place;
  corner: Place;
  side: -1 | 1;
  reading: Reading | undefined;
  heavy: boolean;
}) {
  if (reading?.value == null) return null;
  return (
    <g stroke="var(--brass)" strokeWidth={heavy ? 2 : 1.2} fill="none">
      <path d={`M${from[0]} ${from[1]}L${corner[0]} ${corner[1]}`} strokeDasharray="8 3 2 3" />
      <circle cx={corner[0]} cy={corner[1]} r={3.4} fill="var(--ink)" stroke="none" />
      <text
        x={corner[0] + side * 12}
        y={corner[1] + 5}
        textAnchor={side < 0 ? "end" : "start"}
        fontSize={16}
        fontWeight={heavy ? 700 : 500}
        fill="var(--ink)"
        stroke="none"
      >
        {figure(reading.value, reading.decimals)}
        {unitOf(reading.unit)}
      </text>
    </g>
  );
}
