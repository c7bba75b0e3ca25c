import type { Show, Take } from "../api/client";

/** One track of a take: its number in the show, null where the show has no such track any more. */
export interface TakeRow {
  track: string;
  number: number | null;
  name: string;
}

/**
 * The tracks of a take in the show's order, each by the newest name of its files. Tracks that the show no longer has
 * come last. A track's id says nothing, so its number is the show's.
 */
export function takeRows(
  take: { files: Pick<Take["files"][number], "track" | "name">[] },
  show: { tracks: Pick<Show["tracks"][number], "id" | "number">[] },
): TakeRow[] {
  const names = new Map(take.files.map((file) => [file.track, file.name]));
  const known = show.tracks.filter(({ id }) => names.has(id));
  const ids = new Set(known.map(({ id }) => id));
  return [
    ...known.map(({ id, number }) => ({ track: id, number, name: names.get(id) ?? "" })),
    ...[...names].filter(([id]) => !ids.has(id)).map(([id, name]) => ({ track: id, number: null, name })),
  ];
}

/** "09 Accordion", or the name alone where there is no number. */
export const takeRowLabel = ({ number, name }: TakeRow): string => (number === null ? name : `${String(number).padStart(2, "0")} ${name}`);
