/** The geometry of a standard's number line: its ends, its ticks, and what a handle moves. */
import type { Figures } from "../api/standards";

/** From left to right: where the margin below ends, both limits, where the margin above ends. */
export const HANDLES = ["margin-low", "low", "high", "margin-high"] as const;
export type Handle = (typeof HANDLES)[number];

export interface Line {
  from: number;
  to: number;
  step: number;
  ticks: number[];
  /** Of the ticks. */
  decimals: number;
}

/** The handles that a standard has, with their places: an open side has none. */
export function handlesOf(figures: Figures): { handle: Handle; at: number }[] {
  const { low, high, watch_low, watch_high } = figures;
  return [
    ...(low === null
      ? []
      : ([
          { handle: "margin-low", at: low - watch_low },
          { handle: "low", at: low },
        ] as const)),
    ...(high === null
      ? []
      : ([
          { handle: "high", at: high },
          { handle: "margin-high", at: high + watch_high },
        ] as const)),
  ];
}

/** A line on which these figures lie with room to be moved; the ones it began with keep it from
 * shrinking under the hand. */
export function lineOf(base: Figures, figures: Figures, decimals: number): Line {
  const at = [...handlesOf(base), ...handlesOf(figures)].map((one) => one.at);
  const [least, most] = at.length > 0 ? [Math.min(...at), Math.max(...at)] : [0, 1];
  const room = Math.max((most - least) * 0.6, Math.abs(most) * 0.4, 5 * 10 ** -decimals);
  const gap = tickGap(most - least + 2 * room);
  const from = Math.floor((least - room) / gap) * gap;
  const to = Math.ceil((most + room) / gap) * gap;
  const count = Math.round((to - from) / gap);
  const ticks = Array.from({ length: count + 1 }, (_, n) => tidy(from + n * gap));
  return {
    from,
    to,
    step: 10 ** -Math.max(decimals, 1),
    ticks,
    decimals: Math.max(0, -Math.floor(Math.log10(gap))),
  };
}

/** 1, 2 or 5 times a power of ten, for four to eight ticks. */
function tickGap(width: number): number {
  const rough = width / 6;
  const power = 10 ** Math.floor(Math.log10(rough));
  return ([1, 2, 5].find((n) => n * power >= rough) ?? 10) * power;
}

/** Without the last digits of binary fractions. */
export function tidy(value: number): number {
  return Number(value.toFixed(6));
}

/** The figures once a handle lies elsewhere. A limit takes its margin along; it stops at the
 * other limit, and a margin at its limit. */
export function moved(figures: Figures, handle: Handle, to: number): Figures {
  const { low, high } = figures;
  switch (handle) {
    case "low":
      return { ...figures, low: tidy(Math.min(to, high ?? to)) };
    case "high":
      return { ...figures, high: tidy(Math.max(to, low ?? to)) };
    case "margin-low":
      return { ...figures, watch_low: tidy(Math.max((low ?? to) - to, 0)) };
    case "margin-high":
      return { ...figures, watch_high: tidy(Math.max(to - (high ?? to), 0)) };
  }
}
