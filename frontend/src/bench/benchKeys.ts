/** The keys of the Bench; what they do stands on the sheet behind `?`. */
import type { BenchPage } from "../api/client";
import type { Keys } from "../shared/useKeys";
import type { BenchHand } from "./useBench";
import { nearerBy, type Toggle } from "./toggles";

interface Around {
  page: BenchPage;
  hand: BenchHand;
  toggle: (what: Toggle) => void;
  on: () => void;
  back: () => void;
  thenAndNow: () => void;
}

export function benchKeys({ page, hand, toggle, on, back, thenAndNow }: Around): Keys {
  const { edits, frame, setFrame, playback, sight, setSight } = hand;
  const keys: Keys = {
    q: () => setFrame(frame - 1),
    w: () => setFrame(frame + 1),
    "Shift+q": () => setFrame(frame - 10),
    "Shift+w": () => setFrame(frame + 10),
    " ": () => playback.setPlaying(!playback.playing),
    s: playback.slower,
    "Shift+s": () => playback.setHeard(!playback.heard),
    j: () => hand.toKeyframe(-1),
    k: () => hand.toKeyframe(1),
    e: () => hand.setEdge("rest", "start"),
    "Shift+e": () => hand.setEdge("rest", "end"),
    o: () => hand.setEdge("hold", "start"),
    "Shift+o": () => hand.setEdge("hold", "end"),
    l: () => toggle("letters"),
    m: () => hand.cycle(1),
    "Shift+m": () => hand.cycle(-1),
    x: () => {
      const held = hand.inHand;
      if (held) hand.drop(held.landmark, held.x, held.y, !held.hidden);
    },
    u: () => {
      hand.flush();
      if (hand.selected) edits.send({ kind: "remove-mark", landmark: hand.selected, frame });
    },
    a: () => {
      if (page.found_left > 0) edits.send({ kind: "accept" });
    },
    b: () => undo(page, hand),
    "Shift+b": () => redo(page, hand),
    "Ctrl+z": () => undo(page, hand),
    "Ctrl+Shift+z": () => redo(page, hand),
    Enter: () => hand.placeAsked(page.width / 2, page.height / 2),
    "+": () => setSight({ ...sight, look: nearerBy(sight.look, 1.35, hand, page) }),
    "-": () => setSight({ ...sight, look: nearerBy(sight.look, 1 / 1.35, hand, page) }),
    "0": () => setSight({ ...sight, look: null }),
    z: () => setSight({ ...sight, close: !sight.close, look: null }),
    v: () => setSight({ ...sight, veil: !sight.veil }),
    g: () => hand.setOf(hand.of === "frame" ? "hold" : "frame"),
    i: () => toggle("staves"),
    f: () => {
      if (hand.first?.worst_frame != null) setFrame(hand.first.worst_frame);
    },
    c: () => {
      if (hand.first?.answer === null) hand.answers.decide(hand.first, "confirmed");
    },
    d: () => {
      if (hand.first?.answer === null) hand.dismiss(hand.first);
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
      hand.letGo();
    },
  };
  for (const modifier of ["", "Shift+", "Alt+"]) {
    keys[`${modifier}ArrowLeft`] = hand.nudge(-1, 0);
    keys[`${modifier}ArrowRight`] = hand.nudge(1, 0);
    keys[`${modifier}ArrowUp`] = hand.nudge(0, -1);
    keys[`${modifier}ArrowDown`] = hand.nudge(0, 1);
  }
  return keys;
}

export function undo(page: BenchPage, hand: BenchHand): void {
  hand.flush();
  if (page.undo !== null || hand.edits.waiting > 0) hand.edits.send({ kind: "undo" });
}

export function redo(page: BenchPage, hand: BenchHand): void {
  if (page.redo !== null) hand.edits.send({ kind: "redo" });
}
