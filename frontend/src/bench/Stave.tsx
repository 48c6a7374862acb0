/** One stave: band lines, ink with its uncertainty, findings above, the reading at the end. */
import { memo } from "react";
import type { BenchPage, Finding, Series } from "../api/client";
import { figure, unitOf } from "../shared/format";
import { verdictWords } from "../shared/glyphs";
import { explain } from "../shared/explain";
import {
  GAP,
  LEFT,
  RIGHT,
  ink,
  range,
  spread,
  topOf,
  unvoiced,
  voiced,
  xOf,
  type Frame,
} from "./staves";
import { t } from "../shared/words";

interface Props {
  series: Series;
  page: BenchPage;
  row: number;
  place: Frame;
}

/** All of a stave that does not follow the playhead. */
export const Stave = memo(function Stave({ series, page, row, place }: Props) {
  const top = topOf(place, row);
  const right = place.width - RIGHT;
  const [low, high] = range(series);
  const x = (seconds: number) => xOf(place, seconds);
  const y = (value: number) => top + place.stave - ((value - low) / (high - low)) * place.stave;
  const reading = page.readings.find((r) => r.measure === series.measure && r.phase === "hold");
  const found = page.findings.filter(
    (f) => f.start !== null && f.evidence[0]?.measure === series.measure,
  );
  const bottom = top + place.stave;
  const edges = [series.low, series.high].filter((v) => v !== null);
  // A band that is open on one side reaches to the stave's own edge.
  const band = [series.high ?? high, series.low ?? low] as const;
  return (
    <g data-stave={series.measure}>
      <title>{`${series.name}: ${series.note}`}</title>
      <text
        x={0}
        y={top + 17}
        fontSize={15}
        fontWeight={600}
        className="measure-name"
        role="button"
        tabIndex={0}
        onClick={() => explain(series.measure)}
        onKeyDown={(event) => {
          if (event.key === "Enter") explain(series.measure);
        }}
      >
        {series.stave}
      </text>
      {edges.length > 0 && (
        <rect
          x={LEFT}
          width={Math.max(right - LEFT, 0)}
          y={y(band[0])}
          height={Math.max(y(band[1]) - y(band[0]), 0)}
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
      <line x1={LEFT} x2={right} y1={bottom} y2={bottom} stroke="var(--hairline)" />
      <path d={spread(series, page.times, x, y)} fill="var(--ink)" opacity={0.16} />
      <path
        d={ink(voiced(series), page.times, x, y)}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.9}
      />
      {series.sounding && (
        <path
          d={ink(unvoiced(series), page.times, x, y)}
          fill="none"
          stroke="var(--faint)"
          strokeWidth={1.6}
          strokeDasharray="1.5 4"
        >
          <title>{t("No tone")}</title>
        </path>
      )}
      {found.map((finding) => (
        <FindingBar key={finding.fault} finding={finding} x={x} y={top - 1} />
      ))}
      {reading && (
        <>
          <text x={right + 12} y={top + 17} fontSize={15.5} fontWeight={600}>
            {reading.value === null || reading.uncertainty === null
              ? t("can't tell")
              : `${figure(reading.value, reading.decimals)} ± ${figure(reading.uncertainty, reading.decimals)}${unitOf(reading.unit)}`}
          </text>
          <text
            x={right + 12}
            y={top + 34}
            fontSize={13}
            fontWeight={reading.verdict === "fault" ? 650 : 450}
            style={{ fill: verdictInk(reading.verdict) }}
          >
            {reading.value === null
              ? t("see findings")
              : t("{{verdict}}, in hold", { verdict: verdictWords(reading.verdict) })}
          </text>
        </>
      )}
      <line
        x1={0}
        x2={place.width}
        y1={bottom + GAP / 2}
        y2={bottom + GAP / 2}
        stroke="var(--hairline)"
        opacity={0.5}
      />
    </g>
  );
});

/** What the measure is on one frame, in words. */
export function valueHere(series: Series, frame: number): string {
  const now = series.value[frame];
  return now == null
    ? t("no value here")
    : `${figure(now, series.decimals)}${unitOf(series.unit)}`;
}

/** The dot on the ink at one frame. */
export function InkDot({
  series,
  row,
  frame,
  seconds,
  place,
}: {
  series: Series;
  row: number;
  frame: number;
  seconds: number;
  place: Frame;
}) {
  const now = series.value[frame];
  if (now == null) return null;
  const [low, high] = range(series);
  const y = topOf(place, row) + place.stave - ((now - low) / (high - low)) * place.stave;
  return <circle cx={xOf(place, seconds)} cy={y} r={4} fill="var(--brass)" />;
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
