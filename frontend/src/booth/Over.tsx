/** Over the mirror's picture: the own face at rest, dashed, and where the standard wants something. */
import type { Mirrored } from "../api/booth";

interface Props {
  lines: Mirrored["lines"];
  /** Of the picture that was measured, pixels. */
  width: number;
  height: number;
}

export function Over({ lines, width, height }: Props) {
  return (
    <svg viewBox={`0 0 ${width} ${height}`} aria-hidden>
      {lines.map((line, n) => (
        <path key={n} d={line.path} data-pen={line.pen} />
      ))}
    </svg>
  );
}
