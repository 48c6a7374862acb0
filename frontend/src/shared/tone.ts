/** Sounds of the browser's own: a note to aim at, a click, a spoken number. */

/** How long a note sounds, s, and how loud. */
export const LONG = 2.5;
const LOUD = 0.22;
/** Overtones, so that a low note is heard from a small loudspeaker too. */
const OVERTONES = [1, 0.5, 0.33, 0.2, 0.1];

let context: AudioContext | null = null;

/** The page's one sound output; made at the first touch, as browsers want it. */
export function output(): AudioContext {
  context ??= new AudioContext();
  void context.resume();
  return context;
}

/** A note by its pitch, Hz. */
export function sound(hz: number): void {
  const audio = output();
  const now = audio.currentTime;
  const loud = audio.createGain();
  loud.gain.setValueAtTime(0, now);
  loud.gain.linearRampToValueAtTime(LOUD, now + 0.06);
  loud.gain.setValueAtTime(LOUD, now + LONG - 0.3);
  loud.gain.linearRampToValueAtTime(0, now + LONG);
  loud.connect(audio.destination);
  OVERTONES.forEach((share, n) => {
    const [tone, part] = [audio.createOscillator(), audio.createGain()];
    tone.frequency.value = hz * (n + 1);
    part.gain.value = share / 2;
    tone.connect(part).connect(loud);
    tone.start(now);
    tone.stop(now + LONG);
  });
}

/** Pitch of a click: higher where something new begins, Hz. */
const CLICK = { first: 1320, other: 880 };

/** One short click; silent where the browser has no sound. */
export function click(first: boolean): void {
  const audio = context;
  if (audio?.state !== "running") return;
  const [tone, loud] = [audio.createOscillator(), audio.createGain()];
  const now = audio.currentTime;
  tone.frequency.value = first ? CLICK.first : CLICK.other;
  loud.gain.setValueAtTime(first ? 0.25 : 0.12, now);
  loud.gain.exponentialRampToValueAtTime(0.001, now + 0.06);
  tone.connect(loud).connect(audio.destination);
  tone.start(now);
  tone.stop(now + 0.07);
}

/** Whether the browser can count aloud. */
export function canSpeak(): boolean {
  return typeof window.speechSynthesis !== "undefined";
}

/** Words said at once; what is still being said gives way. */
export function speak(words: string): void {
  if (!canSpeak()) return;
  window.speechSynthesis.cancel();
  const told = new SpeechSynthesisUtterance(words);
  told.rate = 1.3;
  window.speechSynthesis.speak(told);
}
