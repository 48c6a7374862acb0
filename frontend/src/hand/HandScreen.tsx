/** Marking accuracy: ten faces marked twice tell how sure this teacher's marks are. */
import { fixed } from "../shared/format";
import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Schemas } from "../api/client";
import { useHand, useHandEdits, useLandmarks } from "../api/queries";
import { Progress } from "../shared/Progress";
import { Refused, Trouble, Waiting } from "../shared/states";
import { useKeys, type Keys } from "../shared/useKeys";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

type Exercise = Schemas["Exercise"];

export default function HandScreen() {
  const hand = useHand();
  const landmarks = useLandmarks();
  if (hand.isPending || landmarks.isPending) return <Waiting what={t("the exercise")} />;
  if (hand.isError) return <Trouble error={hand.error} retry={() => void hand.refetch()} />;
  if (landmarks.isError) return <Trouble error={landmarks.error} />;
  const words = new Map(landmarks.data.map((l) => [l.id, l]));
  return <Hand stands={hand.data} words={words} />;
}

interface Props {
  stands: Exercise;
  words: Map<string, Schemas["LandmarkRow"]>;
}

function Hand({ stands, words }: Props) {
  const edits = useHandEdits();
  const { next, done, total } = stands;
  const name = next ? words.get(next.landmark) : undefined;
  return (
    <main className="hand">
      <title>{t("Marking accuracy – Sulvet")}</title>
      <div className="heading">
        <h1>{t("Marking accuracy")}</h1>
        <span className="faint">
          {next
            ? t("Round {{round}} of 2, face {{face}} of {{faces}}", {
                round: next.round,
                face: next.face,
                faces: stands.faces,
              })
            : t("Both rounds done")}
        </span>
      </div>
      {next && name ? (
        <>
          <Face
            key={`${next.round} ${next.face} ${next.landmark}`}
            stands={stands}
            next={next}
            label={name.label}
            mark={(x, y) => edits.mark.mutate({ ...asked(next), x, y })}
            busy={edits.mark.isPending}
          />
          <aside className="margin" aria-label={t("What to mark")}>
            <Refused error={edits.mark.error ?? edits.forget.error} />
            <h2>{t("Next: {{label}}", { label: name.label })}</h2>
            <p className="fs-5" role="status">
              {name.where}
            </p>
            <p>
              <Rich
                text="Click the point. Or move the cross with the arrow keys, <kbd>Shift</kbd> for larger steps, and press <kbd2>Enter</kbd2>."
                parts={{ kbd: <kbd />, kbd2: <kbd /> }}
              />
            </p>
            <Progress percent={(100 * done) / total} label={t("Marks placed")} />
            <p className="kicker mt-1 mb-0">
              {t("{{done}} of {{total}} marks", { done, total })}
            </p>
            <p className="faint mt-3">
              {t(
                "Nobody marks a mouth corner twice in exactly the same place. Mark ten faces twice, and Sulvet knows how far apart your marks are and adjusts every ± accordingly. The faces are computer-made. You can stop and come back.",
              )}
            </p>
          </aside>
        </>
      ) : (
        <Result stands={stands} words={words} again={() => edits.forget.mutate()} />
      )}
    </main>
  );
}

/** The schema's numbers are looser than what is sent back. */
function asked(next: NonNullable<Exercise["next"]>) {
  return next as Schemas["HandMarkInRequest"];
}

function Face({
  stands,
  next,
  label,
  mark,
  busy,
}: {
  stands: Exercise;
  next: NonNullable<Exercise["next"]>;
  label: string;
  mark: (x: number, y: number) => void;
  busy: boolean;
}) {
  const { width, height } = stands;
  // Nose to chin: as large as the Bench shows a mouth.
  const seen = {
    x: 0.23 * width - 0.5,
    y: 0.36 * height - 0.5,
    width: 0.54 * width,
    height: 0.54 * height,
  };
  const [cross, setCross] = useState<[number, number]>([width / 2, 0.63 * height]);
  const [shown, show] = useState(false);
  const step = (dx: number, dy: number, by: number) => () => {
    show(true);
    setCross(([x, y]) => [x + dx * by, y + dy * by]);
  };
  const keys: Keys = { Enter: () => mark(...cross) };
  for (const [modifier, by] of [
    ["", 1],
    ["Shift+", 12],
    ["Alt+", 0.25],
  ] as const) {
    keys[`${modifier}ArrowLeft`] = step(-1, 0, by);
    keys[`${modifier}ArrowRight`] = step(1, 0, by);
    keys[`${modifier}ArrowUp`] = step(0, -1, by);
    keys[`${modifier}ArrowDown`] = step(0, 1, by);
  }
  useKeys(keys);
  return (
    <svg
      className="face"
      viewBox={`${seen.x} ${seen.y} ${seen.width} ${seen.height}`}
      role="img"
      aria-label={t("Face {{face}}: mark the {{label}}", { face: next.face, label })}
      aria-busy={busy}
      style={{ cursor: "crosshair" }}
      onPointerDown={(event) => {
        if (event.button !== 0 || busy) return;
        const area = event.currentTarget.getBoundingClientRect();
        mark(
          seen.x + ((event.clientX - area.left) / area.width) * seen.width,
          seen.y + ((event.clientY - area.top) / area.height) * seen.height,
        );
      }}
    >
      <image
        href={`/api/hand/faces/${next.face}.jpg`}
        x={-0.5}
        y={-0.5}
        width={width}
        height={height}
      />
      {shown && (
        <path
          d={`M${cross[0] - 16} ${cross[1]}h12m8 0h12M${cross[0]} ${cross[1] - 16}v12m0 8v12`}
          stroke="var(--in-hand)"
          strokeWidth={2}
          data-cross
        />
      )}
    </svg>
  );
}

function Result({ stands, words, again }: Props & { again: () => void }) {
  return (
    <section className="hand-result">
      <p className="fs-5">
        {t(
          "This is how far apart two of your marks are, in pixels of these pictures. Every ± uses it from the next mark you place.",
        )}
      </p>
      <table className="table figures" style={{ maxWidth: "34rem" }}>
        <thead>
          <tr>
            <th scope="col">{t("Mark")}</th>
            <th scope="col">{t("One mark, ± (technical error of measurement)")}</th>
          </tr>
        </thead>
        <tbody>
          {stands.hand_errors.map((e) => (
            <tr key={e.landmark} data-error={e.landmark}>
              <th scope="row">{words.get(e.landmark)?.label ?? e.landmark}</th>
              <td>{t("{{pixels}} px", { pixels: fixed(e.pixels, 1) })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button variant="outline-secondary" onClick={again}>
        {t("Start again")}
      </Button>
    </section>
  );
}
