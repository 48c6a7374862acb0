/** How deep the mouthpiece is, and where a tape on it shows the student the same. */
import { Button } from "react-bootstrap";
import type { BenchPage } from "../api/client";
import { measured } from "../shared/format";

interface Props {
  depth: BenchPage["depth"];
  keep: (keep: boolean) => void;
}

export function Depth({ depth, keep }: Props) {
  if (!depth) return null;
  const { value, uncertainty, kept, here: same } = depth;
  return (
    <section className="finding" aria-labelledby="depth-title">
      <h2 id="depth-title">Mouthpiece depth</h2>
      <p>
        {measured(value, uncertainty, 1, "mm")} in the mouth.{" "}
        {same ? (
          <>
            Put a tape <strong>{value.toFixed(1)} mm from the tip</strong>: the upper teeth rest
            on its edge.
          </>
        ) : (
          "If it sounds best like this, save the depth: Sulvet then tells you where to put a tape."
        )}
        {!same && kept !== null && ` Saved so far: ${kept.toFixed(1)} mm.`}
      </p>
      <Button size="sm" variant="outline-primary" onClick={() => keep(!same)}>
        {same ? "Forget it" : `Save ${value.toFixed(1)} mm`}
      </Button>
    </section>
  );
}
