import { describe, expect, it } from "vitest";
import { askedAt, beginOf, lastsOf, type Prompt } from "./prompts";

const prompts: Prompt[] = [
  { id: "rest", words: "Relax.", side: "Turn.", seconds: 3, counts: null },
  { id: "breathe", words: "Breathe.", side: "Breathe.", seconds: 4, counts: 4 },
  { id: "play", words: "Play.", side: "Play.", seconds: 8, counts: 8 },
];

describe("prompts", () => {
  it("count seconds down and counts up, one after the other, to the end", () => {
    const told = [0, 1.5, 2.99, 3, 6.99, 7, 14.9].map((seconds) => {
      const asked = askedAt(prompts, seconds);
      return `${asked?.prompt.id} ${asked?.number}`;
    });
    expect(told).toEqual([
      "rest 3",
      "rest 2",
      "rest 1",
      "breathe 1",
      "breathe 4",
      "play 1",
      "play 8",
    ]);
    expect(askedAt(prompts, 15)).toBeNull();
    expect([lastsOf(prompts), beginOf(prompts, "play"), beginOf(prompts, "none")]).toEqual([
      15, 7, 15,
    ]);
  });
});
