/** Where rim, mouthpiece or lip plate is: a few clicks on one frame of the hold. */
import { Button } from "react-bootstrap";
import type { BenchPage, Landmark } from "../api/client";

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
};

/** What is still asked for of the thing on this frame. */
export function thingAsked(page: BenchPage, landmarks: Landmark[], frame: number): Landmark[] {
  const placed = new Set(
    page.marks.filter((m) => m.source === "placed" && m.frame === frame).map((m) => m.landmark),
  );
  return landmarks.filter((l) => l.thing !== "" && l.thing === page.thing && !placed.has(l.id));
}

/** Whether the thing has been marked anywhere in the take, so that it is measured. */
export function thingMarked(page: BenchPage): boolean {
  const rim = ["rim_upper_share", "mouthpiece_offset", "plate_tilt"];
  return page.series.some((s) => rim.includes(s.measure));
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
  const all = landmarks.filter((l) => l.thing === page.thing);
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
