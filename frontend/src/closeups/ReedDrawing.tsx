/** The measured drawing of reed and mouthpiece: drawn as the server lays it out, in millimetres. */
import type { CloseUp, EquipmentDrawing } from "../api/closeups";
import { figure, unitOf } from "../shared/format";
import { verdictWords } from "../shared/glyphs";
import { t } from "../shared/words";

type Pane = EquipmentDrawing["panes"][number];
type Stroke = EquipmentDrawing["strokes"][number];
type Span = EquipmentDrawing["spans"][number];

const TITLES: Record<string, string> = { whole: t("To scale"), tip: t("The tip, enlarged") };
const SHADED = t("shaded: where it should be");
const OVALS = t("dashed: flattest and roundest opening that is right");
/** Dimensions that the whole has room for; the others stand in the near piece. */
const COARSE = ["reed_skew", "ligature_gap", "reed_roll"];
/** A letter's height, share of the pane's shorter side. */
const LETTER = { whole: 0.054, tip: 0.085 };

export function ReedDrawing({ page }: { page: CloseUp }) {
  const { drawing } = page;
  if (!drawing) return null;
  const both = drawing.panes.length > 1;
  return (
    <div className="reed-drawing">
      {drawing.panes.map((pane) => (
        <figure key={pane.name} className={`pane ${pane.name}`}>
          <PaneDrawing page={page} drawing={drawing} pane={pane} both={both} />
          <figcaption className="kicker">
            {TITLES[pane.name] ?? pane.name};{" "}
            {drawing.zones.some((zone) => zone.part === "least") ? OVALS : SHADED}
          </figcaption>
        </figure>
      ))}
    </div>
  );
}

interface PaneProps {
  page: CloseUp;
  drawing: EquipmentDrawing;
  pane: Pane;
  both: boolean;
}

function PaneDrawing({ page, drawing, pane, both }: PaneProps) {
  const [width, height] = [pane.right - pane.left, pane.high - pane.low];
  const near = pane.name === "tip";
  const letter = Math.min(width, height) * (near ? LETTER.tip : LETTER.whole);
  const line = letter / 14;
  const shown = drawing.spans.filter((span) => !both || COARSE.includes(span.measure) !== near);
  return (
    <svg
      viewBox={`${pane.left} ${-pane.high} ${width} ${height}`}
      role="img"
      aria-label={words(page, pane)}
    >
      <g transform="scale(1 -1)" strokeLinejoin="round">
        {drawing.strokes.map((stroke) => (
          <Drawn key={stroke.part} stroke={stroke} line={line} />
        ))}
        {drawing.zones.map((zone) => (
          <Drawn key={zone.part} stroke={zone} line={line} zone />
        ))}
        {shown.map((span) => (
          <Dimension key={span.measure} span={span} line={line} />
        ))}
      </g>
      {shown.map((span) => (
        <Label key={span.measure} page={page} span={span} letter={letter} />
      ))}
    </svg>
  );
}

/** The readings in words, for who does not see the drawing. */
function words(page: CloseUp, pane: Pane): string {
  const told = page.readings
    .filter((reading) => reading.value !== null)
    .map(
      (r) =>
        `${r.name} ${figure(r.value ?? 0, r.decimals)}${unitOf(r.unit)}, ${verdictWords(r.verdict)}`,
    );
  return `${TITLES[pane.name] ?? pane.name}: ${told.join("; ")}`;
}

function pathOf({ points, closed }: Pick<Stroke, "points" | "closed">): string {
  return `M${points.map(({ x, y }) => `${x} ${y}`).join("L")}${closed ? "z" : ""}`;
}

function Drawn({ stroke, line, zone }: { stroke: Stroke; line: number; zone?: boolean }) {
  return (
    <path
      d={pathOf(stroke)}
      className={`${zone ? "zone" : "part"} ${stroke.part}`}
      strokeWidth={line * (zone ? 1 : 1.5)}
      strokeDasharray={zone ? `${line * 3} ${line * 2.5}` : undefined}
      data-part={stroke.part}
    />
  );
}

function Dimension({ span, line }: { span: Span; line: number }) {
  const { start, end, out } = span;
  const long = Math.hypot(end.x - start.x, end.y - start.y) || 1;
  const side = {
    x: (-(end.y - start.y) / long) * line * 5,
    y: ((end.x - start.x) / long) * line * 5,
  };
  const tick = ({ x, y }: Span["start"]) =>
    `M${x - side.x} ${y - side.y}L${x + side.x} ${y + side.y}`;
  return (
    <path
      d={`M${start.x} ${start.y}L${end.x} ${end.y}${tick(start)}${tick(end)}`}
      className={`span ${out ? "out" : ""}`}
      strokeWidth={line * (out ? 2.6 : 1.2)}
    />
  );
}

interface LabelProps {
  page: CloseUp;
  span: Span;
  letter: number;
}

function Label({ page, span, letter }: LabelProps) {
  const reading = page.readings.find((r) => r.measure === span.measure);
  if (!reading || reading.value === null) return null;
  const [low, high] = [Math.min(span.start.y, span.end.y), Math.max(span.start.y, span.end.y)];
  const wide = Math.abs(span.end.x - span.start.x);
  // Beside what is tall enough to stand beside, else over or under it, away from the middle.
  const beside = high - low > wide && high - low > letter;
  const x = beside
    ? (span.start.x + span.end.x) / 2 + letter * 0.7
    : (span.start.x + span.end.x) / 2;
  const over = high > -letter;
  const y = beside
    ? (low + high) / 2 - letter * 0.35
    : over
      ? high + letter * 0.5
      : low - letter * 1.15;
  return (
    <text
      x={x}
      y={-y}
      fontSize={letter}
      textAnchor={beside ? "start" : "middle"}
      className={`figures ${span.out ? "out" : ""}`}
      strokeWidth={letter / 4}
    >
      {figure(reading.value, reading.decimals)}
      {unitOf(reading.unit)}
    </text>
  );
}
