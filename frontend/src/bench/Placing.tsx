/** What is marked beside the face: what is held to the mouth, the corners once more, a known length. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { BenchPage, Landmark } from "../api/client";
import { NotThere, Where, named, unplaced } from "./Guided";
import { CHIN, strokeFor } from "./strokes";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const WORDS: Record<string, { name: string; what: string }> = {
  rim: {
    name: t("the rim"),
    what: t("how much of the upper lip is inside it, and whether it is centred"),
  },
  mouthpiece: { name: t("the mouthpiece"), what: t("whether it is centred") },
  plate: {
    name: t("the lip plate"),
    what: t("its height, tilt, and how much of the hole the lip covers"),
  },
  beak: {
    name: t("lips and mouthpiece"),
    what: t("how deep it is in the mouth, its angle, and the lips on it"),
  },
  "rim-side": { name: t("the rim"), what: t("its angle, and whether the lip stays on it") },
  "plate-side": {
    name: t("lips and lip plate"),
    what: t("how far the plate is rolled in or out"),
  },
};
/** The ends of a length the teacher knows. */
export const LENGTH = ["kl_a", "kl_b"];

/** What is being marked: the thing in the hold, the corners at rest, a known length, or the
 * chin's edge, which is drawn along. */
export type Round = "hold" | "rest" | "length" | "chin";

/** The marks of a round. */
export function marksOf(page: BenchPage, round: Round): string[] {
  if (round === "hold") return page.asked_hold;
  if (round === "chin") return [];
  return round === "rest" ? page.asked_pair : LENGTH;
}

/** What is still asked for on this frame. */
export function roundAsked(
  page: BenchPage,
  landmarks: Landmark[],
  round: Round,
  frame: number,
): Landmark[] {
  return unplaced(page, named(landmarks, marksOf(page, round)), frame);
}

/** Whether all of these have been placed, on a frame at rest or on any other. */
function placedAll(page: BenchPage, ids: string[], atRest: boolean): boolean {
  const resting = page.phases.filter((p) => p.name === "rest");
  const marked = page.marks.filter((m) => {
    const seconds = page.times[m.frame] ?? 0;
    const rest = resting.some((p) => seconds >= p.start && seconds <= p.end);
    return m.source === "placed" && rest === atRest;
  });
  return ids.length > 0 && ids.every((id) => marked.some((m) => m.landmark === id));
}

/** Whether the thing held to the mouth has been marked. */
export function thingMarked(page: BenchPage): boolean {
  return placedAll(page, page.asked_hold, false);
}

/** Whether Sulvet has found the thing by itself. */
export function thingFound(page: BenchPage): boolean {
  const own = page.asked_hold.filter((id) => !page.asked_pair.includes(id));
  const found = page.marks.filter((m) => m.source === "found").map((m) => m.landmark);
  return own.length > 0 && own.every((id) => found.includes(id));
}

interface Props {
  page: BenchPage;
  landmarks: Landmark[];
  frame: number;
  round: Round | null;
  begin: (round: Round | null) => void;
  notThere: () => void;
}

export function Placing({ page, landmarks, frame, round, begin, notThere }: Props) {
  const asked = round ? roundAsked(page, landmarks, round, frame) : [];
  const next = asked[0];
  if (round && next) {
    const all = marksOf(page, round);
    const stroke = strokeFor(asked);
    return (
      <section className="finding" aria-labelledby="placing-title">
        <span className="kicker">
          {t("Mark {{nth}} of {{all}}", {
            nth: all.length - asked.length + 1,
            all: all.length,
          })}
        </span>
        <h2 id="placing-title">{t("Next: {{label}}", { label: next.label })}</h2>
        <Where view={page.take.view} next={next} />
        <p>
          <Rich
            text="Click the point{{words}}, or press <kbd>Enter</kbd> and move it with the arrow keys."
            values={{ words: stroke ? `, ${stroke.words}` : "" }}
            parts={{ kbd: <kbd /> }}
          />
        </p>
        <div className="d-flex gap-2">
          {round !== "length" && <NotThere say={notThere} />}
          <Button size="sm" variant="outline-secondary" onClick={() => begin(null)}>
            {t("Cancel")}
          </Button>
        </div>
      </section>
    );
  }
  if (round === "chin")
    return (
      <section className="finding" aria-labelledby="placing-title">
        <h2 id="placing-title">{t("Draw the chin line")}</h2>
        <p className="fs-5 mb-1" role="status">
          {t("Press at the lower lip, {{words}}.", { words: CHIN.words })}
        </p>
        <p>{t("It is stored on this frame, and the frames around it are measured from it.")}</p>
        <Button size="sm" variant="outline-secondary" onClick={() => begin(null)}>
          {t("Cancel")}
        </Button>
      </section>
    );
  const words = WORDS[page.equipment];
  if (words && !thingMarked(page) && thingFound(page))
    return (
      <section className="finding">
        <p className="mb-2">
          {t(
            "Sulvet found {{name}} automatically. Check its marks and drag any that are wrong.",
            { name: words.name },
          )}
        </p>
        <Button size="sm" variant="outline-secondary" onClick={() => begin("hold")}>
          {t("Mark {{name}} yourself", { name: words.name })}
        </Button>
      </section>
    );
  if (words && !thingMarked(page))
    return (
      <section className="finding">
        <p className="mb-2">
          {t(
            "Mark {{name}} on one frame while the note is held, and Sulvet measures {{what}}.",
            { name: words.name, what: words.what },
          )}
        </p>
        <Button variant="outline-primary" onClick={() => begin("hold")}>
          {t("Mark {{name}}, {{count}} clicks", {
            name: words.name,
            count: page.asked_hold.length,
          })}
        </Button>
      </section>
    );
  if (page.asked_pair.length > 0 && !placedAll(page, page.asked_pair, true))
    return (
      <section className="finding">
        <p className="mb-2">
          {t(
            "You marked the lips while the note is held. Mark them at rest as well, and the comparison gets more precise.",
          )}
        </p>
        <Button variant="outline-primary" onClick={() => begin("rest")}>
          {t("Mark them at rest, {{count}} clicks", { count: page.asked_pair.length })}
        </Button>
      </section>
    );
  return null;
}

const SOURCES: Record<string, string> = {
  known: t("the length you marked"),
  rim: t("the usual size of a rim"),
  mouthpiece: t("the usual width of a mouthpiece"),
  hole: t("the usual width of a blow hole"),
  iris: t("the width of the iris"),
  ax_a: t("the usual length of a ligature"),
  rs_top: t("the usual size of a rim"),
};

/** What millimetres rest on, and a length to make them surer. */
export function KnownLength({
  page,
  begin,
  setLength,
}: Pick<Props, "page" | "begin"> & { setLength: (mm: number | null) => void }) {
  const [text, setText] = useState(page.known_length.mm?.toString() ?? "10");
  const marked = LENGTH.every((id) =>
    page.marks.some((m) => m.landmark === id && m.source === "placed"),
  );
  return (
    <details className="finding">
      <summary>
        {page.scale
          ? t("Millimetres ± {{percent}} %, by {{source}}", {
              percent: page.scale.percent.toFixed(0),
              source: SOURCES[page.scale.taken_from] ?? page.scale.taken_from,
            })
          : t("No millimetres: nothing of known size is visible")}
      </summary>
      <p className="mt-2 mb-2">
        {t(
          "Hold a ruler beside the mouth for a moment of the take. Mark both ends of a length on it and enter the length.",
        )}
      </p>
      <Form
        className="d-flex flex-wrap gap-2 align-items-end"
        onSubmit={(event) => {
          event.preventDefault();
          setLength(Number(text));
        }}
      >
        <Button variant="outline-primary" onClick={() => begin("length")}>
          {marked ? t("Mark again") : t("Mark both ends")}
        </Button>
        <Form.Group controlId="known-mm" style={{ width: "7rem" }}>
          <Form.Label className="mb-0">{t("Length, mm")}</Form.Label>
          <Form.Control
            type="number"
            min={page.known_length.shortest}
            max={page.known_length.longest}
            step={0.1}
            required
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Form.Group>
        <Button type="submit" disabled={!marked}>
          {page.known_length.mm === null ? t("Save") : t("Change")}
        </Button>
        {page.known_length.mm !== null && (
          <Button variant="link" onClick={() => setLength(null)}>
            {t("Remove")}
          </Button>
        )}
      </Form>
    </details>
  );
}
