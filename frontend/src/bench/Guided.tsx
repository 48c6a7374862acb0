/** Guided marking: one asked landmark after the other, on one frame at rest. */
import { Alert, Button } from "react-bootstrap";
import type { BenchPage, Landmark } from "../api/client";
import { keyOf, keyWords } from "../shared/shortcuts";
import { Sketch } from "./Sketch";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

/** The frame the teacher is marking, once the first mark is placed. */
export function guideFrame(page: BenchPage): number | null {
  return page.marks.find((m) => m.source === "placed")?.frame ?? null;
}

/** What is still asked for, in order. */
export function stillAsked(page: BenchPage, landmarks: Landmark[]): Landmark[] {
  return unplaced(page, named(landmarks, page.asked_rest), guideFrame(page));
}

/** Landmarks by id, in the order asked for. */
export function named(landmarks: Landmark[], ids: string[]): Landmark[] {
  return ids.flatMap((id) => landmarks.filter((l) => l.id === id));
}

/** Those of them that nobody has placed on this frame. */
export function unplaced(
  page: BenchPage,
  wanted: Landmark[],
  frame: number | null,
): Landmark[] {
  const placed = new Set(
    page.marks.filter((m) => m.source === "placed" && m.frame === frame).map((m) => m.landmark),
  );
  return wanted.filter((l) => !placed.has(l.id));
}

interface Props {
  page: BenchPage;
  landmarks: Landmark[];
  frame: number;
  goTo: (frame: number) => void;
  follow: () => void;
  notThere: () => void;
  starting: boolean;
}

export function Guided({ page, landmarks, frame, goTo, follow, notThere, starting }: Props) {
  const asked = stillAsked(page, landmarks);
  const required = named(landmarks, page.asked_rest);
  const home = guideFrame(page);
  const away = home !== null && home !== frame;
  const next = asked[0];
  const hasRest =
    page.take.view === "front" && page.phases.some((p) => p.name === "rest" && p.by_teacher);
  return (
    <section aria-labelledby="guided-title">
      <p>{page.take.message}</p>
      <h2 id="guided-title" className="h3">
        {next ? t("Next: {{label}}", { label: next.label }) : t("All marks placed")}
      </h2>
      {next && (
        <>
          <Where view={page.take.view} next={next} />
          <p className="kicker">{next.term}</p>
          {home === null ? (
            <p>
              <Rich
                text="Go to a frame where the face is relaxed and nothing covers the mouth, then click the point. Or press <kbd>Enter</kbd> and move it with the arrow keys."
                parts={{ kbd: <kbd /> }}
              />
            </p>
          ) : (
            <p>
              <Rich
                text="Click the point, or press <kbd>Enter</kbd> and move it with the arrow keys."
                parts={{ kbd: <kbd /> }}
              />
            </p>
          )}
          <NotThere say={notThere} />
        </>
      )}
      {away && (
        <Alert variant="warning" className="py-2">
          <Rich
            text="The marks are on frame {{home}}. <button>Go back to it</button>"
            values={{ home }}
            parts={{
              button: (
                <Button
                  variant="link"
                  className="p-0 align-baseline"
                  onClick={() => goTo(home)}
                />
              ),
            }}
          />
        </Alert>
      )}
      <ol className="list-unstyled my-3">
        {required.map((l) => {
          const done = !asked.includes(l);
          return (
            <li key={l.id} className={done ? "faint" : l === next ? "fw-bold" : undefined}>
              <span aria-hidden className="d-inline-block" style={{ width: "1.6rem" }}>
                {done ? "✓" : l === next ? "→" : ""}
              </span>
              {l.label}
              {done && <Said page={page} landmark={l.id} />}
            </li>
          );
        })}
      </ol>
      <Button
        size="lg"
        className="mb-3"
        disabled={(next !== undefined && !hasRest) || starting}
        onClick={follow}
      >
        {next && hasRest ? t("Search “rest” again") : t("Follow these marks")}
      </Button>
    </section>
  );
}

/** What was said of a mark. */
function Said({ page, landmark }: { page: BenchPage; landmark: string }) {
  const gone = page.marks.some((m) => m.landmark === landmark && m.hidden);
  return gone ? (
    <> {t("– not in the picture")}</>
  ) : (
    <span className="visually-hidden"> {t("placed")}</span>
  );
}

/** Nothing to click: the point lies outside the picture, or something covers it. */
export function NotThere({ say }: { say: () => void }) {
  return (
    <Button variant="outline-secondary" size="sm" onClick={say}>
      <Rich
        text="Not visible <kbd>{{hidden}}</kbd>"
        values={{ hidden: keyWords(keyOf("bench", "hidden")) }}
        parts={{ kbd: <kbd /> }}
      />
    </Button>
  );
}

/** In words and by a sketch. */
export function Where({ view, next }: { view: "front" | "side"; next: Landmark }) {
  return (
    <div className="d-flex gap-3 align-items-start">
      <p className="fs-5 mb-1 flex-fill" role="status">
        {next.where}
      </p>
      <Sketch view={view} landmark={next.id} />
    </div>
  );
}
