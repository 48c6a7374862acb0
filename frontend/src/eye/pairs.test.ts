import { describe, expect, it } from "vitest";
import type { GalleryRow } from "../api/eye";
import { pairOf } from "./pairs";

const row = (name: string, view: "front" | "side", look: string, films: string[]) =>
  ({
    name,
    view,
    look,
    loops: films.map((film) => ({ id: film, film, words: "", marks: [] })),
    alike: null,
  }) as GalleryRow;

const rows = [
  row("As it should be", "front", "", ["f1", "f2"]),
  row("Smile", "front", "The corners.", ["s1", "s2", "s3"]),
  row("As it should be", "side", "", ["g1"]),
  row("Head down", "side", "The face.", ["h1", "h3"]),
];

describe("a pair", () => {
  it("is one that is right and a strong fault from the same side", () => {
    const lots = [0.9, 0, 0.7];
    expect(pairOf(rows, () => lots.shift() ?? 0)).toEqual({
      films: ["h3", "g1"],
      right: 1,
      name: "Head down",
      look: "The face.",
    });
    expect(pairOf(rows, () => 0)).toMatchObject({ films: ["f1", "s3"], right: 0 });
    expect(pairOf([], () => 0)).toBeNull();
  });
});
