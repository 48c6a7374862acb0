import { describe, expect, it } from "vitest";
import { echoed, lengthOf, minutesOf, momentAt, type Beat } from "./counting";

const FOUR_BY_FOUR: Beat[] = [
  { do: "in", counts: 2 },
  { do: "tone", counts: 4 },
  { do: "rest", counts: 4 },
];

describe("a drill counted aloud", () => {
  it("is in one beat after the other and nowhere else", () => {
    const seen = Array.from({ length: lengthOf(FOUR_BY_FOUR) }, (_, n) =>
      momentAt(FOUR_BY_FOUR, n),
    ).map((moment) => `${moment?.beat.do} ${moment?.count}`);
    expect(seen).toEqual([
      "in 1",
      "in 2",
      "tone 1",
      "tone 2",
      "tone 3",
      "tone 4",
      "rest 1",
      "rest 2",
      "rest 3",
      "rest 4",
    ]);
    expect(momentAt(FOUR_BY_FOUR, -1)).toBeNull();
    expect(momentAt(FOUR_BY_FOUR, 10)).toBeNull();
    expect(momentAt([], 0)).toBeNull();
  });

  it("lasts as long as its counts at this tempo", () => {
    expect(minutesOf(FOUR_BY_FOUR, 60)).toBe("0:10");
    expect(minutesOf(FOUR_BY_FOUR, 120)).toBe("0:05");
    expect(minutesOf([{ do: "hold", counts: 30 }], 20)).toBe("1:30");
  });

  it("is done by the teacher first where it is an echo", () => {
    expect(echoed(FOUR_BY_FOUR).map((beat) => `${beat.do} ${beat.counts}`)).toEqual([
      "in 2",
      "listen 4",
      "tone 4",
      "rest 4",
    ]);
  });
});
