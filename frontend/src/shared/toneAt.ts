/** Where one tone of a take can be listened to alone, as loud as any other. */
export function toneAt(take: number, start: number): string {
  return `/private/takes/${take}/tone.wav?start=${start}`;
}
