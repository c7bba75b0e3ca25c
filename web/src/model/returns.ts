import type { Track } from "../api/client";

/** What tracks that share a lane are played at, each. */
export const SUMS = [
  { db: 0, means: "0 dB, as they are" },
  { db: -3, means: "−3 dB, where they differ" },
  { db: -4.5, means: "−4.5 dB, between the two" },
  { db: -6, means: "−6 dB, where they are alike" },
];

/** Tracks with a lane of their own, onto which this one could be summed; none while others are summed onto its own. */
export function sharers(tracks: Track[], track: Track): Track[] {
  if (tracks.some(({ beside }) => beside === track.id)) return [];
  return tracks.filter(({ id, beside, return_lane }) => id !== track.id && beside === null && return_lane !== null);
}

/** "lane 3", "lane 3, with Kick at −3 dB", "no lane". */
export function returnWords(tracks: Track[], track: Track): string {
  if (track.return_lane === null) return "no lane";
  const lane = `lane ${track.return_lane}`;
  if (track.sum_db === null) return lane;
  const others = tracks.filter(
    ({ id, beside }) => id !== track.id && (id === track.beside || (beside !== null && beside === (track.beside ?? track.id))),
  );
  return `${lane}, with ${others.map(({ name }) => name).join(", ")} at ${`${track.sum_db}`.replace("-", "−")} dB`;
}
