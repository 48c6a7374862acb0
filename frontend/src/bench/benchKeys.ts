/** The keys of the Bench; what they do stands on the sheet behind `?`. */
import type { BenchPage } from "../api/client";
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
  const keys: Keys = {
    q: () => setFrame(frame - 1),
    w: () => setFrame(frame + 1),
    "Shift+q": () => setFrame(frame - 10),
    "Shift+w": () => setFrame(frame + 10),
    " ": () => playback.setPlaying(!playback.playing),
    s: playback.slower,
    "Shift+s": () => playback.setHeard(!playback.heard),
    j: () => bench.toKeyframe(-1),
    k: () => bench.toKeyframe(1),
    e: () => bench.setEdge("rest", "start"),
    "Shift+e": () => bench.setEdge("rest", "end"),
    o: () => bench.setEdge("hold", "start"),
    "Shift+o": () => bench.setEdge("hold", "end"),
    l: () => toggle("letters"),
    m: () => bench.cycle(1),
    "Shift+m": () => bench.cycle(-1),
    x: () => {
      const held = bench.inHand;
      if (bench.asked.length > 0) bench.notThere();
      else if (held) bench.drop(held.landmark, held.x, held.y, !held.hidden);
    },
    u: () => {
      bench.flush();
      if (bench.selected) edits.send({ kind: "remove-mark", landmark: bench.selected, frame });
    },
    a: () => {
      if (page.found_left > 0) edits.send({ kind: "accept" });
    },
    b: () => undo(page, bench),
    "Shift+b": () => redo(page, bench),
    "Ctrl+z": () => undo(page, bench),
    "Ctrl+Shift+z": () => redo(page, bench),
    Enter: () => bench.placeAsked(page.width / 2, page.height / 2),
    "+": () =>
      setWindowView({ ...windowView, look: nearerBy(windowView.look, 1.35, bench, page) }),
    "-": () =>
      setWindowView({ ...windowView, look: nearerBy(windowView.look, 1 / 1.35, bench, page) }),
    "0": () => setWindowView({ ...windowView, look: null }),
    z: () => setWindowView({ ...windowView, close: !windowView.close, look: null }),
    v: () => setVeil(!isVeiled()),
    g: () => bench.setOf(bench.of === "frame" ? "hold" : "frame"),
    i: () => toggle("staves"),
    f: () => {
      if (bench.first?.worst_frame != null) setFrame(bench.first.worst_frame);
    },
    c: () => {
      if (bench.first?.answer === null) bench.answers.decide(bench.first, "confirmed");
    },
    d: () => {
      if (bench.first?.answer === null) bench.dismiss(bench.first);
    },
    h: () => toggle("own"),
    t: () => toggle("observations"),
    "Shift+n": () => toggle("note"),
    y: thenAndNow,
    r: () => edits.send({ kind: "read", read: !page.take.read }),
    n: on,
    p: back,
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
