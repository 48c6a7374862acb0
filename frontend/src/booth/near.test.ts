import { describe, expect, it } from "vitest";
import { nearTo } from "./near";

const at = (x: number, y: number, wide = 60) => [
  { pen: "rest" as const, path: `M${x} ${y} C ${x} ${y} ${x} ${y} ${x + wide} ${y + 20}` },
  { pen: "zone" as const, path: "M0 0 C 0 0 0 0 400 300 Z" },
];

describe("how near the mirror looks", () => {
  it("brings the face at rest to the middle, and follows only a good way", () => {
    const first = nearTo(at(100, 90), 400, 300, null);
    expect(first).toEqual({ x: 0.325, y: 1 / 3, times: 2.8 });
    expect(nearTo(at(104, 92), 400, 300, first)).toBe(first);
    expect(nearTo(at(140, 90), 400, 300, first)?.x).toBeCloseTo(0.425);
    expect(nearTo([], 400, 300, first)).toBe(first);
    expect(nearTo(at(20, 90, 360), 400, 300, null)?.times).toBe(1);
  });
});
