/** From values to strokes of the score: pure functions of a series and its place. */
import type { Series } from "../api/client";

export const LETTERS = 30;
export const GAP = 7;
export const LEFT = 104;
export const RIGHT = 168;

/** Where a score's times and staves lie, px. */
export interface Frame {
  width: number;
  /** Height of one stave. */
  stave: number;
  /** Time at the right end, s. */
  last: number;
}

export function xOf({ width, last }: Frame, seconds: number): number {
  return LEFT + (seconds / last) * (width - LEFT - RIGHT);
}

export function secondsAt({ width, last }: Frame, x: number): number {
  return Math.min(Math.max((x - LEFT) / (width - LEFT - RIGHT), 0), 1) * last;
}

export function topOf({ stave }: Frame, row: number): number {
  return LETTERS + row * (stave + GAP);
}

/** Least and greatest value a stave shows: all values and the band, and room round them. */
export function range(series: Series): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of [...series.value, series.low, series.high]) {
    if (value === null) continue;
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  if (series.from_zero) low = Math.min(low, 0);
  if (!Number.isFinite(low) || !Number.isFinite(high)) return [0, 1];
  const pad = Math.max(series.least - (high - low), (high - low) * 0.16, 1e-6) / 2;
  return series.from_zero ? [0, high + 2 * pad] : [low - pad, high + pad];
}

type Map1 = (value: number) => number;

/** Line through the values, broken where there are none. */
export function ink(series: Pick<Series, "value">, times: number[], x: Map1, y: Map1): string {
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

/** Where a tone sounds, of what is drawn from the sound; all of anything else. */
export function voiced(series: Series): Pick<Series, "value"> {
  const { sounding, value } = series;
  return { value: value.map((v, n) => (sounding && !sounding[n] ? null : v)) };
}

/** Where no tone sounds; it reaches to the tones on both sides. */
export function unvoiced({ sounding, value }: Series): Pick<Series, "value"> {
  const silent = (n: number) => n >= 0 && n < value.length && sounding?.[n] === false;
  return {
    value: value.map((v, n) => (silent(n - 1) || silent(n) || silent(n + 1) ? v : null)),
  };
}

/** The 95 % band round the line. */
export function spread(series: Series, times: number[], x: Map1, y: Map1): string {
  const parts: string[] = [];
  let upper: string[] = [];
  let lower: string[] = [];
  const finish = () => {
    if (upper.length > 1) parts.push(`M${upper.join("L")}L${lower.reverse().join("L")}Z`);
    upper = [];
    lower = [];
  };
  series.value.forEach((value, n) => {
    const half = series.half_width[n];
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
