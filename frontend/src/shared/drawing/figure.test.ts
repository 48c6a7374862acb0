/** The drawing as the browser places it, against the fixture that paper is held to as well
 * (tests/core/drawing/test_figure.py): the same strokes at the same places, point by point. */
import { readFileSync } from "node:fs";
import { resolve } from "node:path";
import { describe, expect, it } from "vitest";
import {
  anchorsOf,
  fits,
  holdOf,
  pathOf,
  placeOf,
  resolved,
  type Drawing,
  type Place,
  type Stroke,
} from "./figure";

interface Line {
  places: number[][];
  pieces: number[][][];
}

interface Expected {
  name: string;
  drawing: Drawing;
  strokes: (Line | null)[];
  dimensions: Record<
    string,
    { strokes: (Line | null)[]; label: number[] | null; fits: boolean }
  >;
}

const FIXTURE = JSON.parse(
  readFileSync(resolve(__dirname, "../../../../tests/fixtures/figures.json"), "utf-8"),
) as Expected[];

function near(found: readonly number[], wanted: readonly number[], what: string) {
  expect(found.length, what).toBe(wanted.length);
  found.forEach((value, n) => expect(value, what).toBeCloseTo(wanted[n] ?? NaN, 6));
}

/** All numbers of a path, in units: it was drawn a thousand times as large. */
function numbersOf(path: string): number[] {
  return (path.match(/-?[\d.]+/g) ?? []).map((text) => Number(text) / 1000);
}

function compare(stroke: Stroke, wanted: Line | null, drawing: Drawing, what: string): boolean {
  const places = resolved(stroke, anchorsOf(drawing, holdOf(drawing)));
  expect(places === null, what).toBe(wanted === null);
  if (!places || !wanted) return false;
  places.forEach((place, n) => near(place, wanted.places[n] ?? [], what));
  if (stroke.form === "smooth") {
    const large = places.map(([x, y]): Place => [1000 * x, 1000 * y]);
    const found = numbersOf(pathOf(stroke, large)).slice(2);
    wanted.pieces.flat(2).forEach((value, n) => expect(found[n], what).toBeCloseTo(value, 3));
  }
  return true;
}

describe.each(FIXTURE)("$name", ({ drawing, strokes, dimensions }) => {
  it("draws every stroke where paper does", () => {
    const drawn = drawing.strokes.map((stroke, n) =>
      compare(stroke, strokes[n] ?? null, drawing, `${stroke.pen} ${n}`),
    );
    expect(drawn.filter(Boolean).length).toBeGreaterThan(6);
  });

  it("draws every dimension where paper does, and its value", () => {
    const anchors = anchorsOf(drawing, holdOf(drawing));
    for (const dimension of drawing.dimensions) {
      const wanted = dimensions[dimension.measure];
      dimension.strokes.forEach((stroke, n) =>
        compare(stroke, wanted?.strokes[n] ?? null, drawing, dimension.measure),
      );
      const label = placeOf(dimension.label.place, anchors);
      expect(label === null, dimension.measure).toBe(wanted?.label == null);
      expect(fits(dimension, anchors, drawing), dimension.measure).toBe(wanted?.fits);
      if (label && wanted?.label) near(label, wanted.label, dimension.measure);
    }
  });
});
