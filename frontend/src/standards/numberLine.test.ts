import { describe, expect, it } from "vitest";
import { handlesOf, lineOf, moved } from "./numberLine";

const FIGURES = { low: -6, high: 3, watch_low: 4, watch_high: 2 };

describe("a number line", () => {
  it("has every handle on it, with room on both sides", () => {
    for (const decimals of [0, 1, 2, 3])
      for (const scale of [0.01, 1, 250]) {
        const figures = { low: -6 * scale, high: 3 * scale, watch_low: scale, watch_high: 0 };
        const line = lineOf(figures, figures, decimals);
        for (const { at } of handlesOf(figures)) {
          expect(at).toBeGreaterThan(line.from);
          expect(at).toBeLessThan(line.to);
        }
        expect(line.ticks.length).toBeGreaterThan(3);
        expect(line.ticks.length).toBeLessThan(14);
      }
  });

  it("has no handle on an open side", () => {
    expect(handlesOf({ ...FIGURES, low: null }).map((one) => one.handle)).toEqual([
      "high",
      "margin-high",
    ]);
  });

  it("moves a limit with its margin, and neither past the other limit", () => {
    expect(moved(FIGURES, "low", -2)).toEqual({ ...FIGURES, low: -2 });
    expect(moved(FIGURES, "low", 9).low).toBe(3);
    expect(moved(FIGURES, "high", -9).high).toBe(-6);
    expect(moved(FIGURES, "margin-high", 8).watch_high).toBe(5);
    expect(moved(FIGURES, "margin-low", 0).watch_low).toBe(0);
  });
});
