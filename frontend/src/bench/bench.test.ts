import { act, renderHook } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { BenchPage } from "../api/client";
import { benchKeys } from "./benchKeys";
import { frameAt, withEdge } from "./phases";
import { contourOn, pointsOn } from "./points";
import { positionOf, keepPosition } from "./position";
import { queueOf } from "./takeQueue";
import { mouthPart, paint } from "./paint";
import { setProjector, useCalled } from "../shared/projector";
import { isVeiled, setVeil } from "../shared/veil";
import { CHIN, placed, strokeFor } from "./strokes";
import { aroundMouth, aside, fit, looking, nearer } from "./view";

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
});

describe("going nearer and aside", () => {
  const box = { width: 800, height: 400 };
  const fitted = fit({ x: 0, y: 0, width: 400, height: 200 }, box);
  it("keeps the point under the pointer where it is, and ends at the fitted view", () => {
    const at = [100, 60] as const;
    const screen = (view: typeof fitted) => (at[0] - view.seen.x) * view.scale;
    const near = looking(fitted, nearer(fitted, fitted, 2, at), box);
    expect(near.scale).toBeCloseTo(2 * fitted.scale);
    expect(screen(near)).toBeCloseTo(screen(fitted));
    expect(nearer(fitted, near, 0.4, at)).toBeNull();
    expect(nearer(fitted, near, 100, at)?.zoom).toBe(14);
  });
  it("moves with the hand", () => {
    const moved = looking(fitted, aside(fitted, fitted, 50, -20), box);
    expect(moved.seen.x).toBeCloseTo(-25);
    expect(moved.seen.y).toBeCloseTo(10);
  });
});

describe("strokes", () => {
  const asked = (...ids: string[]) => ids.map((id) => ({ id }));
  it("are offered only while all of their marks are asked for next", () => {
    const rim = ["rim_1", "rim_2", "rim_3", "rim_4", "rim_5"];
    expect(strokeFor(asked(...rim, "ch_r"))?.form).toBe("round");
    expect(strokeFor(asked(...rim.slice(1), "ch_r"))).toBeNull();
    expect(strokeFor(asked("ch_r", "hole_r", "hole_l"))).toBeNull();
  });
  it("put five points round a rim, the first where the line began", () => {
    const stroke = strokeFor(asked("rim_1", "rim_2", "rim_3", "rim_4", "rim_5"));
    const marks = stroke
      ? placed(stroke, [
          [100, 50],
          [90, 80],
          [100, 110],
        ])
      : [];
    expect(marks[0]).toEqual({ landmark: "rim_1", x: 100, y: 50 });
    for (const { x, y } of marks) expect(Math.hypot(x - 100, y - 80)).toBeCloseTo(30);
  });
  it("know the student's right whichever way the line was drawn", () => {
    const stroke = strokeFor(asked("hole_r", "hole_l"));
    const ends = [
      { landmark: "hole_r", x: 10, y: 5 },
      { landmark: "hole_l", x: 40, y: 6 },
    ];
    expect(
      stroke &&
        placed(stroke, [
          [40, 6],
          [10, 5],
        ]),
    ).toEqual(ends);
    expect(
      stroke &&
        placed(stroke, [
          [10, 5],
          [40, 6],
        ]),
    ).toEqual(ends);
  });
  it("spread a chin's edge evenly from the lip down", () => {
    const marks = placed(CHIN, [
      [50, 113],
      [50, 100],
      [60, 100],
    ]);
    expect(marks).toHaveLength(14);
    expect(marks[0]).toEqual({ landmark: "cc_1", x: 60, y: 100 });
    expect(marks[13]).toEqual({ landmark: "cc_14", x: 50, y: 113 });
    const steps = marks.slice(1).map((m, n) => {
      const before = marks[n];
      return before ? Math.hypot(m.x - before.x, m.y - before.y) : 0;
    });
    expect(Math.max(...steps)).toBeLessThan(23 / 13 + 0.01);
  });
});

describe("the key X", () => {
  const pressed = (asked: string[]) => {
    const bench = {
      asked,
      inHand: { landmark: "ls", x: 3, y: 4, hidden: false },
      notThere: vi.fn(),
      drop: vi.fn(),
      nudge: vi.fn(),
      playback: {},
      edits: {},
    };
    const around = { page: {}, bench, toggle: vi.fn(), on: vi.fn(), back: vi.fn() };
    const key = benchKeys({ ...around, thenAndNow: vi.fn() } as never).x;
    key?.({} as KeyboardEvent);
    return bench;
  };
  it("answers what is asked for, else covers and uncovers the mark in hand", () => {
    const asking = pressed(["ch_r"]);
    expect(asking.notThere).toHaveBeenCalledOnce();
    expect(asking.drop).not.toHaveBeenCalled();
    const holding = pressed([]);
    expect(holding.notThere).not.toHaveBeenCalled();
    expect(holding.drop).toHaveBeenCalledWith("ls", 3, 4, true);
  });
});

describe("the veil", () => {
  const point = (landmark: string, x: number, y: number) =>
    ({ landmark, x, y, sigma: 1, source: "found", hidden: false }) as const;
  it("leaves mouth and chin clear and the eyes veiled, and veils all without a mouth", () => {
    const clear = mouthPart([point("ch_r", 300, 400), point("ch_l", 400, 400)]);
    expect(clear && clear.y < 380 && clear.y + clear.height > 440).toBe(true);
    expect(clear && clear.y > 320).toBe(true);
    expect(mouthPart([point("ex_r", 1, 1)])).toBeNull();
    const left = point("ch_l", 400, 400);
    expect(mouthPart([{ ...point("ch_r", 300, 400), hidden: true }, left])).toBeNull();
    expect(mouthPart([{ ...point("ch_r", 300, 400), sigma: 40 }, left])).toBeNull();
  });
  it("covers the whole picture where the mouth is not known, and only then nothing is clear", () => {
    const drawn: string[] = [];
    const context = new Proxy({} as Record<string, unknown>, {
      get: (kept, name: string) => kept[name] ?? (() => void drawn.push(name)),
    });
    const canvas = { width: 1, height: 1, getContext: () => context } as never;
    const view = { scale: 1, seen: { x: 0, y: 0, width: 9, height: 9 } };
    const shown = (veil: Parameters<typeof paint>[5]) => {
      drawn.length = 0;
      paint(canvas, {} as never, { width: 9, height: 9 }, view, { width: 9, height: 9 }, veil);
      return drawn.filter((name) => name === "clip" || name === "drawImage").join(" ");
    };
    expect(shown(null)).toBe("drawImage");
    expect(shown({ clear: null })).toBe("drawImage");
    expect(shown({ clear: { x: 1, y: 1, width: 2, height: 2 } })).toBe(
      "drawImage clip drawImage",
    );
  });
  it("stays on from take to take until it is taken off", () => {
    localStorage.clear();
    expect(isVeiled()).toBe(false);
    setVeil(true);
    expect(isVeiled()).toBe(true);
    setVeil(false);
    expect(isVeiled()).toBe(false);
  });
  it("is on when Sulvet is shown in class, with first names alone", () => {
    localStorage.clear();
    const { result } = renderHook(useCalled);
    expect(result.current("Edda Marschall")).toBe("Edda Marschall");
    act(() => setProjector(true));
    expect(isVeiled()).toBe(true);
    expect(result.current(" Edda  Marschall")).toBe("Edda");
    act(() => setProjector(false));
    expect(isVeiled()).toBe(true);
    expect(result.current("Edda Marschall")).toBe("Edda Marschall");
  });
});

describe("a run of takes", () => {
  it("keeps its order when takes are read and others come in", () => {
    sessionStorage.clear();
    expect(queueOf(5, [4, 5, 6])).toEqual([5, 4, 6]);
    expect(queueOf(4, [4, 6])).toEqual([5, 4, 6]);
    expect(queueOf(6, [6, 9])).toEqual([5, 4, 6, 9]);
    expect(queueOf(77, [6, 9])).toEqual([77, 6, 9]);
  });
});

describe("the position", () => {
  const position = { frame: 7, selected: "ch_r", round: null, dismissing: null };
  it("is found again, for the newest takes", () => {
    localStorage.clear();
    for (let take = 1; take <= 70; take++) keepPosition(take, { ...position, frame: take });
    expect(positionOf(70)?.frame).toBe(70);
    expect(positionOf(5)).toBeNull();
    localStorage.setItem("sulvet-desks", "{broken");
    expect(positionOf(70)).toBeNull();
  });
});
