/** What the shortcuts of the Bench do; their keys are in `shared/shortcuts.ts`. */
import type { BenchPage } from "../api/client";
import { bound } from "../shared/shortcuts";
import type { Keys } from "../shared/useKeys";
import { isVeiled, setVeil } from "../shared/veil";
import type { BenchState } from "./useBench";
import { nearerBy, type Toggle } from "./toggles";

interface Around {
  page: BenchPage;
  bench: BenchState;
  toggle: (what: Toggle) => void;
  on: () => void;
  back: () => void;
  thenAndNow: () => void;
}

export function benchKeys({ page, bench, toggle, on, back, thenAndNow }: Around): Keys {
  const { edits, frame, setFrame, playback, windowView, setWindowView } = bench;
  const nearer = (by: number) =>
    setWindowView({ ...windowView, look: nearerBy(windowView.look, by, bench, page) });
  const keys: Keys = {
    ...bound(
      "bench",
      {
        "frame-back": () => setFrame(frame - 1),
        "frame-on": () => setFrame(frame + 1),
        play: () => playback.setPlaying(!playback.playing),
        slower: playback.slower,
        "marked-before": () => bench.toKeyframe(-1),
        "marked-next": () => bench.toKeyframe(1),
        rest: () => bench.setEdge("rest", "start"),
        hold: () => bench.setEdge("hold", "start"),
        tone: () => bench.toHold(1),
        phases: () => toggle("letters"),
        staves: () => toggle("staves"),
        mark: () => bench.cycle(1),
        hidden: () => {
          const held = bench.inHand;
          if (bench.asked.length > 0) bench.notThere();
          else if (held) bench.drop(held.landmark, held.x, held.y, !held.hidden);
        },
        "remove-mark": () => {
          bench.flush();
          if (bench.selected)
            edits.send({ kind: "remove-mark", landmark: bench.selected, frame });
        },
        accept: () => {
          if (page.found_left > 0) edits.send({ kind: "accept" });
        },
        undo: () => undo(page, bench),
        closer: () => nearer(1.35),
        farther: () => nearer(1 / 1.35),
        fit: () => setWindowView({ ...windowView, look: null }),
        mouth: () => setWindowView({ ...windowView, close: !windowView.close, look: null }),
        veil: () => setVeil(!isVeiled()),
        drawing: () => bench.setOf(bench.of === "frame" ? "hold" : "frame"),
        worst: () => {
          if (bench.first?.worst_frame != null) setFrame(bench.first.worst_frame);
        },
        confirm: () => {
          if (bench.first?.answer === null) bench.answers.decide(bench.first, "confirmed");
        },
        dismiss: () => {
          if (bench.first?.answer === null) bench.dismiss(bench.first);
        },
        reviewed: () => edits.send({ kind: "read", read: !page.take.read }),
        own: () => toggle("own"),
        observations: () => toggle("observations"),
        "then-now": thenAndNow,
        next: on,
        previous: back,
      },
      {
        "frame-back": () => setFrame(frame - 10),
        "frame-on": () => setFrame(frame + 10),
        slower: () => playback.setHeard(!playback.heard),
        rest: () => bench.setEdge("rest", "end"),
        hold: () => bench.setEdge("hold", "end"),
        tone: () => bench.toHold(-1),
        mark: () => bench.cycle(-1),
        undo: () => redo(page, bench),
        next: () => toggle("note"),
      },
    ),
    "Ctrl+z": () => undo(page, bench),
    "Ctrl+Shift+z": () => redo(page, bench),
    Enter: () => bench.placeAsked(page.width / 2, page.height / 2),
    Escape: () => {
      toggle(null);
      bench.letGo();
    },
  };
  for (const modifier of ["", "Shift+", "Alt+"]) {
    keys[`${modifier}ArrowLeft`] = bench.nudge(-1, 0);
    keys[`${modifier}ArrowRight`] = bench.nudge(1, 0);
    keys[`${modifier}ArrowUp`] = bench.nudge(0, -1);
    keys[`${modifier}ArrowDown`] = bench.nudge(0, 1);
  }
  return keys;
}

export function undo(page: BenchPage, bench: BenchState): void {
  bench.flush();
  if (page.undo !== null || bench.edits.waiting > 0) bench.edits.send({ kind: "undo" });
}

export function redo(page: BenchPage, bench: BenchState): void {
  if (page.redo !== null) bench.edits.send({ kind: "redo" });
}
