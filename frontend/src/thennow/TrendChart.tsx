/** Values with their uncertainty over the days, the band behind them, the plans under them. */
import { useNavigate } from "react-router";
import {
  ComposedChart,
  ErrorBar,
  Line,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  XAxis,
  YAxis,
} from "recharts";
import type { Trend } from "../api/records";
import { figure, measured, noon, shortDay, unitOf } from "../shared/format";
import { verdictWords } from "../shared/glyphs";
import { bounds, rows, type Row } from "./trendRows";
import { t } from "../shared/words";

const HEIGHT = 200;

export default function TrendChart({ trend }: { trend: Trend }) {
  const navigate = useNavigate();
  const points = rows(trend);
  if (points.length === 0)
    return (
      <p className="faint">
        {t("No take has a value for this while the note is held. Choose another measurement.")}
      </p>
    );
  const { x, y, ticks } = bounds(trend, points);
  const low = trend.low ?? y[0];
  const high = trend.high ?? y[1];
  // A unit of letters would wrap: it is told once, below.
  const unit = unitOf(trend.unit);
  const sign = /\p{L}/u.test(unit) ? "" : unit;
  const banded = trend.low !== null || trend.high !== null;
  return (
    <figure className="mb-0 figures">
      <div role="img" aria-label={words(trend, points)}>
        <ResponsiveContainer width="100%" height={HEIGHT}>
          <ComposedChart data={points} margin={{ top: 8, right: 14, bottom: 0, left: 0 }}>
            {banded && (
              <ReferenceArea y1={low} y2={high} fill="var(--good)" fillOpacity={0.14} />
            )}
            {trend.plans.map((plan) => (
              <ReferenceArea
                key={`${plan.fault}-${plan.started_on}`}
                x1={Math.max(noon(plan.started_on), x[0])}
                x2={Math.min(noon(plan.ends_on), x[1])}
                fill="var(--brass)"
                fillOpacity={0.1}
                stroke="var(--brass)"
                strokeDasharray="2 3"
                label={{
                  value: plan.fault,
                  position: "insideTopLeft",
                  fill: "var(--faint)",
                  fontSize: 13,
                }}
              />
            ))}
            {trend.plans
              .flatMap((plan) => plan.rechecks)
              .map((due) => (
                <ReferenceLine
                  key={due}
                  x={noon(due)}
                  stroke="var(--brass)"
                  strokeDasharray="4 3"
                />
              ))}
            <XAxis
              dataKey="at"
              type="number"
              domain={x}
              ticks={[...new Set(points.map((p) => p.at))]}
              tickFormatter={(at: number) => shortDay(at)}
              stroke="var(--faint)"
              tick={{ fill: "var(--ink)", fontSize: 14 }}
              minTickGap={24}
            />
            <YAxis
              type="number"
              domain={y}
              ticks={ticks}
              width={58}
              tickFormatter={(value: number) => `${figure(value, trend.decimals)}${sign}`}
              stroke="var(--faint)"
              tick={{ fill: "var(--ink)", fontSize: 14 }}
            />
            <Line
              dataKey="value"
              stroke="var(--ink)"
              strokeWidth={1.6}
              dot={false}
              isAnimationActive={false}
            />
            <Scatter
              dataKey="value"
              isAnimationActive={false}
              shape={(dot: { cx?: number; cy?: number; payload?: Row }) => (
                <Dot {...dot} open={(take) => void navigate(`/takes/${take}`)} />
              )}
            >
              <ErrorBar
                dataKey="uncertainty"
                direction="y"
                width={5}
                stroke="var(--ink)"
                strokeWidth={1.3}
              />
            </Scatter>
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="kicker">
        {!sign && unit && t("In{{unit}}. ", { unit })}
        {banded && t("Shaded: within standard. ")}
        {t("Bars: 95 % uncertainty.")}
        {trend.plans.length > 0 && t(" Framed: two weeks of a plan; dashed: rechecks.")}
      </figcaption>
    </figure>
  );
}

interface DotProps {
  cx?: number;
  cy?: number;
  payload?: Row;
  open: (take: number) => void;
}

/** Out of band is a full dot, in band an open one: told by shape, not by colour. */
function Dot({ cx, cy, payload, open }: DotProps) {
  if (cx === undefined || cy === undefined || !payload) return <g />;
  const out = payload.verdict === "fault" || payload.verdict === "watch";
  return (
    <circle
      cx={cx}
      cy={cy}
      r={5.5}
      fill={out ? "var(--fault)" : "var(--sheet)"}
      stroke={out ? "var(--fault)" : "var(--ink)"}
      strokeWidth={2}
      style={{ cursor: "pointer" }}
      onClick={() => open(payload.take)}
    />
  );
}

function words(trend: Trend, points: Row[]): string {
  const told = points.map(
    (p) =>
      `${shortDay(p.at)}: ${measured(p.value, p.uncertainty, trend.decimals, trend.unit)}, ${verdictWords(p.verdict)}`,
  );
  return `${trend.name}. ${told.join("; ")}`;
}
