/** Showing Sulvet to a class: first names alone, and faces veiled. */
import { storedSwitch } from "./storedSwitch";
import { setVeil } from "./veil";

const projector = storedSwitch("sulvet-projector");

export const useProjector = projector.useIt;

/** On it veils; off it leaves the veil, which is taken off by itself. */
export function setProjector(on: boolean): void {
  projector.set(on);
  if (on) setVeil(true);
}

/** How students are called on screen. */
export function useCalled(): (name: string) => string {
  const shown = useProjector();
  return (name) => (shown ? firstName(name) : name);
}

export function firstName(name: string): string {
  return name.trim().split(/\s+/)[0] ?? name;
}
