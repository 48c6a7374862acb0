/** Places on a line from 0 to 1 that keep their order and stand at least so far apart; as near
 * to where they belong as that allows. */
export function spread(places: number[], apart: number): number[] {
  const least = Math.min(apart, places.length > 1 ? 1 / (places.length - 1) : 1);
  const out = [...places];
  for (let n = 1; n < out.length; n++)
    out[n] = Math.max(out[n] ?? 0, (out[n - 1] ?? 0) + least);
  // Back from the end, where they were pushed out.
  for (let n = out.length - 1; n >= 0; n--) {
    const most = n === out.length - 1 ? 1 : (out[n + 1] ?? 1) - least;
    out[n] = Math.max(Math.min(out[n] ?? 0, most), 0);
  }
  return out;
}
