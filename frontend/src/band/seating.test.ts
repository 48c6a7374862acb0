import { describe, expect, it } from "vitest";
import type { BandPage, Chair } from "../api/client";
import { seatingPlan } from "./seating";

function sections(...sizes: [arc: number, chairs: number][]): BandPage["sections"] {
  return sizes.map(([arc, chairs], s) => ({
    id: s,
    name: `Section ${s}`,
    arc,
    chairs: Array.from({ length: chairs }, (_, n) => ({ id: 100 * s + n }) as Chair),
  }));
}

describe("seatingPlan", () => {
  const bands = [
    sections([1, 1]),
    sections([1, 4], [2, 3], [3, 3], [3, 3]),
    sections([1, 9], [2, 11], [3, 10], [3, 10]),
    sections([1, 14], [2, 31], [3, 25], [3, 20]),
  ];
  it.each(bands)("seats everybody on the stage, nobody on top of another", (...band) => {
    const plan = seatingPlan(band);
    expect(plan.seats).toHaveLength(band.reduce((sum, s) => sum + s.chairs.length, 0));
    const half = plan.chairWidth / 2;
    expect(plan.chairWidth).toBeGreaterThan(0.07);
    plan.seats.forEach((seat, n) => {
      expect(seat.x - half).toBeGreaterThan(0);
      expect(seat.x + half).toBeLessThan(1);
      expect(seat.y).toBeGreaterThan(0);
      expect(seat.y).toBeLessThan(1);
      for (const other of plan.seats.slice(n + 1)) {
        const across = Math.abs(seat.x - other.x) / plan.chairWidth;
        const down = (Math.abs(seat.y - other.y) * plan.height) / 56;
        expect(Math.max(across, down)).toBeGreaterThan(1);
      }
    });
  });
});
