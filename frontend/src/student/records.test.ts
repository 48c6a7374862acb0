import { describe, expect, it } from "vitest";
import type { Chair } from "../api/client";
import type { Trend } from "../api/records";
import { ALL, fits } from "../band/filters";
import { rowOf, sendable } from "../clips/rows";
import { mayBeFilmed } from "../shared/consent";
import { paperOf } from "../shared/slip";
import { bounds, niceStep, rows } from "../thennow/trendRows";
import { spread } from "./spread";

describe("places on the time line", () => {
  it("keeps order, room and ends", () => {
    for (const places of [[0, 0, 0.5, 1, 1], [0, 0.01, 0.02], [1, 1, 1, 1], [0.3]]) {
      const out = spread(places, 0.12);
      expect(out).toHaveLength(places.length);
      out.forEach((at, n) => {
        expect(at).toBeGreaterThanOrEqual(0);
        expect(at).toBeLessThanOrEqual(1 + 1e-9);
        if (n > 0) expect(at - (out[n - 1] ?? 0)).toBeGreaterThan(0.12 - 1e-9);
      });
    }
  });

  it("leaves alone what has room, and shares what there is when there is too little", () => {
    expect(spread([0, 0.4, 1], 0.1)).toEqual([0, 0.4, 1]);
    const tight = spread(new Array<number>(11).fill(0.5), 0.4);
    expect(tight[0]).toBeCloseTo(0);
    expect(tight[10]).toBeCloseTo(1);
  });
});

describe("a trend", () => {
  const point = (filmed_on: string, value: number | null) =>
    ({ take: 1, filmed_on, value, uncertainty: 1, verdict: "fault" }) as const;
  const trend = {
    measure: "corner_rise",
    decimals: 1,
    low: -6,
    high: 3,
    plans: [],
    points: [point("2026-11-02", 9), point("2026-11-09", null), point("2026-11-09", 4)],
  } as unknown as Trend;

  it("leaves out what no take tells and shows the band whole", () => {
    const told = rows(trend);
    expect(told.map((row) => row.value)).toEqual([9, 4]);
    const { x, y, ticks } = bounds(trend, told);
    expect(y[0]).toBeLessThanOrEqual(-6);
    expect(y[1]).toBeGreaterThanOrEqual(10);
    expect(ticks[0]).toBe(y[0]);
    expect(ticks.at(-1)).toBe(y[1]);
    expect(x[0]).toBeLessThan(told[0]?.at ?? 0);
    expect(x[1]).toBeGreaterThan(told[1]?.at ?? 0);
  });

  it("has steps that are easily read", () => {
    expect([0.3, 0.9, 1, 1.1, 3, 7, 40].map(niceStep)).toEqual([0.5, 1, 1, 2, 5, 10, 50]);
  });
});

describe("the filter of the band", () => {
  const chair = {
    name: "Zoë Nuñez",
    instrument: "horn",
    focus: "smile",
    state: "recheck-due",
  } as Chair;

  it("asks for all that is chosen", () => {
    expect(fits(chair, "Horns", ALL)).toBe(true);
    expect(fits(chair, "Horns", { ...ALL, instrument: "horn", focus: "smile" })).toBe(true);
    expect(fits(chair, "Horns", { ...ALL, section: "Flutes" })).toBe(false);
    expect(fits(chair, "Horns", { ...ALL, waits: "due" })).toBe(true);
    expect(fits(chair, "Horns", { ...ALL, waits: "new" })).toBe(false);
    expect(fits(chair, "Horns", { ...ALL, text: "nunez zoe" })).toBe(true);
    expect(fits(chair, "Horns", { ...ALL, text: "nina" })).toBe(false);
  });
});

describe("a clip of a folder", () => {
  const file = new File(["x"], "a.mp4", { lastModified: Date.parse("2026-11-03T10:00:00Z") });
  const match = {
    file: "a.mp4",
    student: 4,
    view: "side" as const,
    purpose: "check" as const,
    filmed_on: "",
    why: "",
    video: true,
  };
  const chair = { consent_on: "2026-09-01", consent_until: "2026-12-24" } as Chair;

  it("takes the day of its name, else its own, never one to come", async () => {
    expect((await rowOf(file, match, "2026-11-26")).filmedOn).toBe("2026-11-03");
    expect(
      (await rowOf(file, { ...match, filmed_on: "2026-11-01" }, "2026-11-26")).filmedOn,
    ).toBe("2026-11-01");
    expect(
      (await rowOf(file, { ...match, filmed_on: "2027-01-01" }, "2026-11-26")).filmedOn,
    ).toBe("2026-11-26");
  });

  it("is sent once somebody is chosen for it, and only once", async () => {
    const row = await rowOf(file, { ...match, student: null }, "2026-11-26");
    expect(sendable(row, undefined)).toBe(false);
    expect(sendable({ ...row, student: "4" }, chair)).toBe(true);
    expect(sendable({ ...row, student: "4", state: "sent" }, chair)).toBe(false);
    expect(sendable({ ...row, student: "4", video: false }, chair)).toBe(false);
  });

  it("needs a consent that covers the day it was filmed", () => {
    const days = ["2026-08-31", "2026-09-01", "2026-12-24", "2026-12-25"];
    expect(days.map((day) => mayBeFilmed(chair, day))).toEqual([false, true, true, false]);
    expect(mayBeFilmed({ ...chair, consent_on: null }, "2026-10-01")).toBe(false);
  });
});

describe("the paper of a slip", () => {
  it("follows the region, and is A4 where none is told", () => {
    expect(["en-US", "fr-CA", "en-GB", "de", "en", "es-MX"].map(paperOf)).toEqual([
      "letter",
      "letter",
      "a4",
      "a4",
      "a4",
      "letter",
    ]);
  });
});
