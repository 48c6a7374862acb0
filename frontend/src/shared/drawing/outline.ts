/** The mouth's own lines, without dimensions: over a picture, or one mouth over another. */
import {
  anchorsOf,
  pathOf,
  resolved,
  type Drawing,
  type Layout,
  type Mouth,
  type Pen,
  type Place,
} from "./figure";

/** Places of the strokes of some pens, stroke by stroke; one whose anchors are not all seen is
 * left out. */
function placesOf(drawing: Drawing, mouth: Mouth, pens: readonly Pen[]) {
  const anchors = anchorsOf(drawing, mouth);
  return drawing.strokes
    .filter(({ pen }) => pens.includes(pen))
    .flatMap((stroke) => {
      const places = resolved(stroke, anchors);
      return places ? [{ stroke, places }] : [];
    });
}

/** Paths of the strokes of some pens. */
export function outlineOf(layout: Layout, mouth: Mouth, pens: readonly Pen[]): string[] {
  return placesOf(layout.drawing, mouth, pens).map(({ stroke, places }) =>
    pathOf(
      stroke,
      places.map((place) => layout.at(place)),
    ),
  );
}

/** The part of the sheet that some mouths fill: lower left and upper right; null where nothing of
 * them is drawn. */
export function boundsOf(
  drawing: Drawing,
  mouths: readonly Mouth[],
  pens: readonly Pen[],
): Drawing["box"] | null {
  const places: Place[] = mouths.flatMap((mouth) =>
    placesOf(drawing, mouth, pens).flatMap((one) => one.places),
  );
  if (places.length < 2) return null;
  const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}
