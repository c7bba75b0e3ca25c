/** What somebody wants to hear of levels: how often, of which lanes, and whether of the desk's channels. */
export interface Levels {
  rateHz: number;
  lanes: number[];
  desk: boolean;
}

/** What serves them all; null where nobody wants any. */
export function together(wanted: Levels[]): Levels | null {
  if (wanted.length === 0) return null;
  return {
    rateHz: Math.max(...wanted.map(({ rateHz }) => rateHz)),
    lanes: [...new Set(wanted.flatMap(({ lanes }) => lanes))].sort((a, b) => a - b),
    desk: wanted.some(({ desk }) => desk),
  };
}

/** How a line of events is asked for them: lanes as numbers and ranges. */
export function eventsQuery(wanted: Levels | null): string {
  if (wanted === null) return "";
  const runs: [number, number][] = [];
  for (const lane of wanted.lanes) {
    const last = runs.at(-1);
    if (last && lane === last[1] + 1) last[1] = lane;
    else runs.push([lane, lane]);
  }
  const lanes = runs.map(([from, to]) => (from === to ? `${from}` : `${from}-${to}`)).join(",");
  return `?rate_hz=${wanted.rateHz}${lanes && `&lanes=${lanes}`}${wanted.desk ? "&desk=true" : ""}`;
}

/** "1-3,9" -> [1, 2, 3, 9]. */
export const lanesIn = (text: string): number[] =>
  text === ""
    ? []
    : text.split(",").flatMap((part) => {
        const [from = 0, to = from] = part.split("-").map(Number);
        return Array.from({ length: to - from + 1 }, (_, i) => from + i);
      });

/** Values that came for some lanes, each at its lane's place, counted from 0. */
export function byLane(lanes: number[], values: number[]): number[] {
  const placed: number[] = [];
  lanes.forEach((lane, at) => {
    const value = values[at];
    if (value !== undefined) placed[lane - 1] = value;
  });
  return placed;
}
