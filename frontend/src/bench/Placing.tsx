/** What has to be marked while the tone is held: rim, mouthpiece, lip plate, or a profile's lips. */
import { Button } from "react-bootstrap";
import type { BenchPage, Landmark } from "../api/client";
import { named, unplaced } from "./Guided";

const WORDS: Record<string, { name: string; what: string }> = {
  rim: {
    name: "the rim",
    what: "how much of the upper lip it takes, and whether it is centred",
  },
  mouthpiece: { name: "the mouthpiece", what: "whether it is centred" },
  plate: {
    name: "the lip plate",
    what: "its height, its tilt, and how much of the hole the lip covers",
  },
  lips: { name: "the lips", what: "the hollow of the chin while the tone is held" },
};

/** What is still asked for on this frame. */
export function thingAsked(page: BenchPage, landmarks: Landmark[], frame: number): Landmark[] {
  return unplaced(page, named(landmarks, page.asked_hold), frame);
}

/** Whether all of it has been marked, on any frame but those at rest. */
export function thingMarked(page: BenchPage): boolean {
  const resting = page.phases.filter((p) => p.name === "rest");
  const marked = page.marks.filter((m) => {
    const seconds = page.times[m.frame] ?? 0;
    return (
      m.source === "placed" && !resting.some((p) => seconds >= p.start && seconds <= p.end)
    );
  });
  return (
    page.asked_hold.length > 0 &&
    page.asked_hold.every((id) => marked.some((m) => m.landmark === id))
  );
}

interface Props {
  page: BenchPage;
  landmarks: Landmark[];
  frame: number;
  placing: boolean;
  setPlacing: (on: boolean) => void;
}

export function Placing({ page, landmarks, frame, placing, setPlacing }: Props) {
  const words = WORDS[page.thing];
  if (!words) return null;
  const all = page.asked_hold;
  const asked = thingAsked(page, landmarks, frame);
  const next = asked[0];
  if (placing && next) {
    return (
      <section className="finding" aria-labelledby="placing-title">
        <span className="kicker">
          Mark {all.length - asked.length + 1} of {all.length}
        </span>
        <h2 id="placing-title">Next: {next.words}</h2>
        <p className="fs-5 mb-1" role="status">
          {next.where}
        </p>
        <p>
          Click the point, or press <kbd>Enter</kbd> and move it with the arrow keys.
        </p>
        <Button size="sm" variant="outline-secondary" onClick={() => setPlacing(false)}>
          Leave it
        </Button>
      </section>
    );
  }
  if (thingMarked(page)) return null;
  return (
    <section className="finding">
      <p className="mb-2">
        Mark {words.name} on one frame of the hold, and Sulvet measures {words.what}.
      </p>
      <Button variant="outline-primary" onClick={() => setPlacing(true)}>
        Mark {words.name}, {all.length} clicks
      </Button>
    </section>
  );
}
