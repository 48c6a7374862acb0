/** What the chart draws: the takes that tell the measure, and how far its axes reach. */
import type { Trend } from "../api/records";
import { noon } from "../shared/format";

export interface Row {
  at: number;
  take: number;
  value: number;
  uncertainty: number;
  verdict: string;
}

const DAY_MS = 86_400_000;

/** The takes with a value, oldest first; two of one day stand a little apart. */
export function rows(trend: Trend): Row[] {
  const told = trend.points.filter((p) => p.value !== null);
  return told.map((p, n) => {
    const same = told.slice(0, n).filter((q) => q.filmed_on === p.filmed_on).length;
    return {
      at: noon(p.filmed_on) + same * 0.2 * DAY_MS,
      take: p.take,
      value: p.value as number,
      uncertainty: p.uncertainty ?? 0,
      verdict: p.verdict,
    };
  });
}

/** Days with room before and after; values with their uncertainty, and the band's edges. */
export function bounds(
  trend: Trend,
  points: Row[],
): { x: [number, number]; y: [number, number]; ticks: number[] } {
  const ends = trend.plans.map((plan) => noon(plan.ends_on));
  const first = points[0]?.at ?? 0;
  const last = Math.max(...points.map((p) => p.at), ...ends.filter((end) => end > first));
  const lows = points.map((p) => p.value - p.uncertainty);
  const highs = points.map((p) => p.value + p.uncertainty);
  for (const edge of [trend.low, trend.high]) {
    if (edge === null) continue;
    lows.push(edge);
    highs.push(edge);
  }
  const [low, high] = [Math.min(...lows), Math.max(...highs)];
  const step = niceStep(Math.max((high - low) / 4, 10 ** -trend.decimals));
  const [from, to] = [Math.floor(low / step), Math.ceil(high / step)];
  const aside = Math.max(0.04 * (last - first), DAY_MS);
  return {
    x: [first - aside, last + aside],
    y: [from * step, to * step],
    ticks: Array.from({ length: to - from + 1 }, (_, n) => (from + n) * step),
  };
}

/** The next larger of 1, 2 and 5 times a power of ten. */
export function niceStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  const wanted = [1, 2, 5, 10].find((times) => times * power >= least * 0.999) ?? 10;
  return wanted * power;
}
