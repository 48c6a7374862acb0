import { describe, expect, it } from "vitest";
import { withUnsent, type PracticePage } from "../api/practice";

const page = {
  days: [
    { number: 1, date: "2026-11-28", off: false, mine: true, teachers: true },
    { number: 2, date: "2026-11-29", off: false, mine: false, teachers: false },
  ],
  reeds: [{ id: 7, slot: 1, strength: "2", last_on: null, following: true }],
  exercises: [{ id: 4, mine: ["2026-11-28"] }],
  said: [{ day: "2026-11-28", text: "low notes" }],
} as unknown as PracticePage;

describe("what is not sent yet", () => {
  it("stands on the page in its order, and leaves the teacher's ticks alone", () => {
    const shown = withUnsent(page, [
      { do: "tick", date: "2026-11-28", done: false, exercise: null },
      { do: "tick", date: "2026-11-29", done: true, exercise: null },
      { do: "tick", date: "2026-11-29", done: true, exercise: 4 },
      { do: "tick", date: "2026-11-28", done: false, exercise: 4 },
      { do: "reed", reed: 7, date: "2026-11-29" },
      { do: "word", text: "high notes", exercise: null },
    ]);
    expect(shown.days.map((one) => [one.mine, one.teachers])).toEqual([
      [false, true],
      [true, false],
    ]);
    expect(shown.exercises[0]?.mine).toEqual(["2026-11-29"]);
    expect(shown.reeds[0]?.last_on).toBe("2026-11-29");
    expect(shown.said.map((one) => one.text)).toEqual(["high notes", "low notes"]);
    expect(page.days[1]?.mine).toBe(false);
  });
});
