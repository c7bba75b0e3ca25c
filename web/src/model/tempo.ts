/** A pause of this length begins the count anew. */
const PAUSE_MS = 2500;
/** So many taps count at most: a hand that settles is better than its beginning. */
const TAPS = 12;

/** Taps with one more; after a pause it is the first of new ones. */
export function tapped(taps: number[], nowMs: number): number[] {
  const last = taps[taps.length - 1];
  return last !== undefined && nowMs - last > PAUSE_MS ? [nowMs] : [...taps, nowMs].slice(-TAPS);
}

/** Beats a minute of evenly spaced taps, to a tenth; null before there are three. */
export function tempoOf(taps: number[]): number | null {
  const [first, last] = [taps[0], taps[taps.length - 1]];
  if (taps.length < 3 || first === undefined || last === undefined || last === first) return null;
  return Math.round((600_000 * (taps.length - 1)) / (last - first)) / 10;
}
