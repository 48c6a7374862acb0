import { describe, expect, it } from "vitest";
import type { BenchPage } from "../api/client";
import { frameAt, withEdge } from "./phases";
import { contourOn, pointsOn } from "./points";
import { stavesOf } from "./Score";
import { aroundMouth, fit } from "./view";

describe("frameAt", () => {
  it("takes the nearest frame of uneven times", () => {
    const times = [0, 0.033, 0.083, 0.1];
    expect([-1, 0.016, 0.017, 0.05, 0.06, 0.2].map((t) => frameAt(times, t))).toEqual([
      0, 0, 1, 1, 2, 3,
    ]);
  });
});

describe("withEdge", () => {
  it("moves the edge that two letters share, and pushes a letter away but never rest or hold", () => {
    const both = [
      { name: "rest" as const, start: 0, end: 1 },
      { name: "hold" as const, start: 1, end: 3 },
      { name: "release" as const, start: 3, end: 3.3 },
    ];
    expect(withEdge(both, "hold", "end", 2.5, 5)).toEqual([
      both[0],
      { name: "hold", start: 1, end: 2.5 },
      { name: "release", start: 2.5, end: 3.3 },
    ]);
    expect(withEdge(both, "hold", "end", 4, 5).map((p) => p.name)).toEqual(["rest", "hold"]);
    expect(withEdge(both, "rest", "end", 4, 5)).toContainEqual(both[1]);
  });

  const phases = [{ name: "rest" as const, start: 0, end: 1.5 }];
  it("moves one edge and leaves the rest", () => {
    expect(withEdge(phases, "rest", "end", 1.2, 5)).toEqual([
      { name: "rest", start: 0, end: 1.2 },
    ]);
  });
  it("makes a missing phase, in order of time", () => {
    expect(withEdge(phases, "hold", "start", 2, 5)).toEqual([
      phases[0],
      { name: "hold", start: 2, end: 3 },
    ]);
  });
  it("never lets a phase turn inside out or leave the take", () => {
    for (const at of [-3, 0, 1.49, 1.5, 4.99, 9]) {
      for (const edge of ["start", "end"] as const) {
        const [span] = withEdge(phases, "rest", edge, at, 5);
        expect(span?.start).toBeGreaterThanOrEqual(0);
        expect(span?.end).toBeLessThanOrEqual(5);
        expect((span?.end ?? 0) - (span?.start ?? 0)).toBeGreaterThan(0.09);
      }
    }
  });
});

describe("view", () => {
  const track = (landmark: string, x: number, y: number) =>
    ({ landmark, x: [x, x, null], y: [y, y, null] }) as BenchPage["tracks"][number];
  it("puts the mouth into the picture whole", () => {
    const part = aroundMouth({ tracks: [track("ch_r", 300, 400), track("ch_l", 400, 400)] });
    expect(part).not.toBeNull();
    if (!part) return;
    expect(part.x).toBeLessThan(300);
    expect(part.x + part.width).toBeGreaterThan(400);
    const view = fit(part, { width: 800, height: 300 });
    expect(view.seen.width * view.scale).toBeCloseTo(800);
    expect(view.seen.height * view.scale).toBeCloseTo(300);
    expect(view.seen.x + view.seen.width / 2).toBeCloseTo(350);
  });
  it("has none without a mouth", () => {
    expect(aroundMouth({ tracks: [track("ch_r", 300, 400)] })).toBeNull();
  });
});

describe("a side view", () => {
  const track = (landmark: string, x: number, y: number, hidden = false) => ({
    landmark,
    x: [x],
    y: [y],
    sigma: [1],
    source: ["followed" as const],
    hidden: [hidden],
  });
  const tracks = [track("n", 100, 40), track("pg", 110, 240), track("cc_1", 120, 200)];
  const page = {
    tracks: [...tracks, track("cc_2", 118, 210), track("cc_3", 1, 1, true)],
    marks: [],
  } as unknown as BenchPage;

  it("shows the profile, whatever is held before it", () => {
    const seen = aroundMouth(page);
    expect(seen?.x).toBeLessThan(-100);
    expect(seen && seen.y + seen.height).toBeGreaterThan(260);
  });
  it("draws the edge of the chin as one line and not as marks to drag", () => {
    expect(contourOn(page, 0)).toBe("120,200 118,210");
    expect(pointsOn(page, 0).map((p) => p.landmark)).toEqual(["n", "pg"]);
  });
  it("has staves in the order in which things are put right", () => {
    const series = (ids: string[]) =>
      ids.map((measure) => ({ measure })) as unknown as BenchPage["series"];
    const order = (ids: string[]) => stavesOf(series(ids)).map((s) => s.measure);
    expect(order(["head_roll", "corner_rise", "rim_upper_share"])).toEqual([
      "rim_upper_share",
      "corner_rise",
    ]);
    expect(order(["head_nod", "chin_hollow"])).toEqual(["chin_hollow", "head_nod"]);
  });
});
