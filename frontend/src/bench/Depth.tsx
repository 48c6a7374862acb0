/** How deep the mouthpiece is, and where a tape on it shows the student the same. */
import { Button } from "react-bootstrap";
import type { BenchPage } from "../api/client";
import { fixed, measured } from "../shared/format";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

interface Props {
  depth: BenchPage["depth"];
  keep: (keep: boolean) => void;
}

export function Depth({ depth, keep }: Props) {
  if (!depth) return null;
  const { value, uncertainty, kept, here: same } = depth;
  return (
    <section className="finding" aria-labelledby="depth-title">
      <h2 id="depth-title">{t("Mouthpiece depth")}</h2>
      <p>
        {t("{{mm}} in the mouth.", { mm: measured(value, uncertainty, 1, "mm") })}{" "}
        {same ? (
          <>
            <Rich
              text="Put a tape <strong>{{mm}} mm from the tip</strong>: the upper teeth rest on its edge."
              values={{ mm: fixed(value, 1) }}
              parts={{ strong: <strong /> }}
            />
          </>
        ) : (
          t(
            "If it sounds best like this, save the depth: Sulvet then tells you where to put a tape.",
          )
        )}
        {!same && kept !== null && t(" Saved so far: {{mm}} mm.", { mm: fixed(kept, 1) })}
      </p>
      <Button size="sm" variant="outline-primary" onClick={() => keep(!same)}>
        {same ? t("Forget it") : t("Save {{mm}} mm", { mm: fixed(value, 1) })}
      </Button>
    </section>
  );
}
