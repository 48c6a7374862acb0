/** The measured drawing of this take: on the frame at hand, or over the hold. */
import { useRef } from "react";
import type { BenchPage } from "../api/client";
import { figure, inside, unitOf } from "../shared/format";
import { MeasuredDrawing } from "../shared/drawing/MeasuredDrawing";
import type { Value } from "../shared/drawing/Ink";
import { holdOf, placesOf, type Mouth, type Place } from "../shared/drawing/figure";
import { saveSvg } from "../shared/drawing/save";
import type { Point } from "./points";
import type { Preview } from "./preview";
import { useBox } from "../shared/useBox";
import { t } from "../shared/words";

export type DrawingOf = "frame" | "hold";

interface Props {
  page: BenchPage;
  frame: number;
  points: Point[];
  /** What the frame would measure while a mark is dragged. */
  preview: Preview | null;
  of: DrawingOf;
  setOf: (of: DrawingOf) => void;
}

/** The mouth on one frame: its marks, brought onto the sheet; null where it can't be told. */
export function mouthOn(
  page: BenchPage,
  frame: number,
  points: Point[],
  preview: Preview | null,
): Mouth | null {
  const move = page.anchors.moves[frame];
  if (!page.drawing || !move) return null;
  const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = move;
  const place = ({ x, y }: { x: number; y: number }): Place => [
    a * x + c * y + e,
    b * x + d * y + f,
  ];
  const contour = page.tracks
    .filter((t) => t.landmark.startsWith("cc_"))
    .flatMap((t) => {
      const [x, y] = [t.x[frame], t.y[frame]];
      return x == null || y == null ? [] : [{ landmark: t.landmark, x, y }];
    });
  const shown = [...points, ...contour];
  const hidden = points.filter((p) => p.hidden).map((p) => p.landmark);
  const places = Object.fromEntries(shown.map((p) => [p.landmark, place(p)]));
  return { points: { ...places, ...derivedOn(page, frame, preview) }, covered: hidden };
}

/** The derived anchors of a frame: as they are kept, or as a drag would have them. */
function derivedOn(page: BenchPage, frame: number, preview: Preview | null): Mouth["points"] {
  if (preview) return placesOf(preview.anchors);
  return Object.fromEntries(
    Object.entries(page.anchors.derived).flatMap(([name, rows]) => {
      const [x, y] = rows[frame] ?? [];
      return x === undefined || y === undefined ? [] : [[name, [x, y] as const]];
    }),
  );
}

/** Values at one frame against the band, or of the hold with their verdict. */
export function valuesOf(
  page: BenchPage,
  frame: number,
  of: DrawingOf,
  preview: Preview | null,
): (measure: string) => Value | null {
  const bandOf = new Map(page.drawing?.dimensions.map((d) => [d.measure, d.band || d.measure]));
  return (measure) => {
    const judgedBy = bandOf.get(measure) ?? measure;
    if (of === "hold") {
      const held = (name: string) =>
        page.readings.find((r) => r.measure === name && r.phase === "hold");
      const reading = held(measure);
      if (reading?.value == null) return null;
      const { value, decimals, unit } = reading;
      const verdict = held(judgedBy)?.verdict;
      return { value, decimals, unit, out: verdict === "fault" || verdict === "watch" };
    }
    const series = page.series.find((s) => s.measure === measure);
    const value = preview ? preview.values[measure] : series?.value[frame];
    const band = page.series.find((s) => s.measure === judgedBy);
    if (!series || !band || value == null) return null;
    const { decimals, unit } = series;
    const { low, high } = band;
    const out = (low !== null && value < low) || (high !== null && value > high);
    return { value, decimals, unit, out };
  };
}

export function DrawingPanel({ page, frame, points, preview, of, setOf }: Props) {
  const [holder, box] = useBox<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const { drawing } = page;
  if (!drawing)
    return page.take.state === "ready" ? (
      <section className="drawing-panel" aria-label={t("Measured drawing")}>
        <p className="faint p-3">
          {t(
            "The drawing appears once lips or corners are marked at rest and while the note is held.",
          )}
        </p>
      </section>
    ) : null;
  const live = of === "frame" ? mouthOn(page, frame, points, preview) : null;
  const shown: DrawingOf = live ? "frame" : "hold";
  const value = valuesOf(page, frame, shown, preview);
  return (
    <section className="drawing-panel" aria-label={t("Measured drawing")}>
      <div className="sheet" ref={holder}>
        {box.width > 0 && (
          <MeasuredDrawing
            ref={svg}
            drawing={drawing}
            mouth={live ?? holdOf(drawing)}
            value={value}
            width={box.width}
            height={box.height}
            label={wordsOf(page, shown, value)}
          />
        )}
      </div>
      <div className="bar">
        <div
          role="group"
          aria-label={t("The drawing shows")}
          className="btn-group btn-group-sm"
        >
          {(
            [
              ["frame", t("This frame")],
              ["hold", t("The hold")],
            ] as const
          ).map(([name, words]) => (
            <button
              key={name}
              type="button"
              className="btn btn-outline-secondary"
              aria-pressed={of === name}
              onClick={() => setOf(name)}
            >
              {words}
            </button>
          ))}
        </div>
        <button
          type="button"
          className="btn btn-link btn-sm"
          onClick={() => svg.current && saveSvg(svg.current, `${page.student_name} ${shown}`)}
        >
          {t("Save as SVG")}
        </button>
      </div>
      <p className="kicker mb-0">
        {t("Dashed: at rest. Shaded: where the standard wants it.")}
      </p>
    </section>
  );
}

function wordsOf(
  page: BenchPage,
  of: DrawingOf,
  value: (measure: string) => Value | null,
): string {
  const parts = (page.drawing?.dimensions ?? []).flatMap(({ measure, always }) => {
    const told = value(measure);
    const name = inside(page.series.find((s) => s.measure === measure)?.name ?? measure);
    return told && (always || told.out)
      ? [`${name} ${figure(told.value, told.decimals)}${unitOf(told.unit)}`]
      : [];
  });
  const where = of === "hold" ? t("in hold") : t("on this frame");
  return `Measured drawing of the mouth ${where}: ${parts.join(", ") || t("no value")}`;
}
