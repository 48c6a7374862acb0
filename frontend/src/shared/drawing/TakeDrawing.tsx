/** The small drawing of one take: on chairs' lists, in a history. */
import type { TakeSummary } from "../../api/client";
import { SmallDrawing } from "./MeasuredDrawing";
import { mouthOf } from "./figure";

interface Props {
  take: Pick<TakeSummary, "drawing"> | null;
  width: number;
  height: number;
}

export function TakeDrawing({ take, width, height }: Props) {
  if (!take?.drawing) return null;
  const { drawing } = take;
  return (
    <SmallDrawing
      drawing={drawing}
      mouth={mouthOf(drawing.hold)}
      width={width}
      height={height}
    />
  );
}
