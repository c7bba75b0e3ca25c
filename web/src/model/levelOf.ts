import type { Frame } from "../api/live";
import type { Levels } from "./levels";

/** One level of those that come every moment: what must be wanted so that it comes, and where it stands then. Pure. */
export interface LevelOf {
  wants: Pick<Levels, "lanes" | "desk">;
  /** In dBFS. */
  in: (frame: Frame) => number;
}

/** A lane or a channel, from 1; none has no level. */
type Place = number | null | undefined;

/** Under all that is shown: nothing sounds, or nothing is known. */
export const SILENCE_DBFS = -150;

const at = (levels: number[] | null | undefined, place: Place): number =>
  place == null ? SILENCE_DBFS : (levels?.[place - 1] ?? SILENCE_DBFS);

/** What comes in on a lane. */
export const onLane = (lane: Place): LevelOf => ({
  wants: { lanes: lane == null ? [] : [lane], desk: false },
  in: ({ meters }) => at(meters?.peak_dbfs, lane),
});

/** What the desk meters: its channels, then what listens to it. */
export const atDesk = (place: Place): LevelOf => ({ wants: { lanes: [], desk: place != null }, in: ({ desk }) => at(desk.peaks, place) });

/** What the deck plays into a lane; it is told beside the desk's. */
export const inFile = (lane: Place): LevelOf => ({
  wants: { lanes: [], desk: lane != null },
  in: ({ deck }) => at(deck?.playing?.peak_dbfs, lane),
});

/** Under this a lane is silent, whatever hum its preamp has (common practice). */
const SILENT_DBFS = -60;

/** Whether nothing comes in on a lane. Where no level is known, as for a show that is not on air, nobody is silent. */
export const isSilent = (lane: Place, frame: Frame): boolean => frame.meters !== null && onLane(lane).in(frame) < SILENT_DBFS;
