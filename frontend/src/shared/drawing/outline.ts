/** The mouth's own lines, without dimensions: over a picture, or one mouth over another. */
import { anchorsOf, pathOf, resolved, type Layout, type Mouth, type Pen } from "./figure";

/** Paths of the strokes of some pens, or of all; a stroke whose anchors are not all seen is left
 * out. */
export function outlineOf(layout: Layout, mouth: Mouth, pens?: readonly Pen[]): string[] {
  const anchors = anchorsOf(layout.drawing, mouth);
  return layout.drawing.strokes
    .filter(({ pen }) => pens?.includes(pen) ?? true)
    .flatMap((stroke) => {
      const places = resolved(stroke, anchors);
      return places
        ? [
            pathOf(
              stroke,
              places.map((place) => layout.at(place)),
            ),
          ]
        : [];
    });
}
