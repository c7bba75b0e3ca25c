import type { TakeOverview } from "../api/client";

/** One envelope of all tracks of a take: what a place in it looks like from afar. */
export function envelope(overview: TakeOverview | undefined): [number, number][] {
  const tracks = overview?.tracks ?? [];
  const points = Math.max(0, ...tracks.map((track) => track.points.length));
  return Array.from({ length: points }, (_, at) => {
    const here = tracks.flatMap((track) => (track.points[at] ? [track.points[at]] : []));
    return [Math.min(0, ...here.map((point) => point?.[0] ?? 0)), Math.max(0, ...here.map((point) => point?.[1] ?? 0))];
  });
}

/** "1:23" or "83" or "1:02:03" as seconds; null for anything else. */
export function typedTime(text: string): number | null {
  if (!/^\d+(:\d{1,2}){0,2}([.,]\d+)?$/.test(text.trim())) return null;
  return text
    .trim()
    .replace(",", ".")
    .split(":")
    .reduce((sum, part) => sum * 60 + Number(part), 0);
}

/** "bar 12" or "b12" as 12; null for anything else. */
export function typedBar(text: string): number | null {
  const bar = /^b(?:ar)?\s*(\d{1,5})$/i.exec(text.trim())?.[1];
  return bar === undefined ? null : Number(bar);
}

/** From a mark to the next one, or to the end. */
export function betweenMarks(marks: readonly { frame: number }[], at: number, length: number): [number, number] {
  const next = marks.map(({ frame }) => frame).filter((frame) => frame > at);
  return [at, next.length > 0 ? Math.min(...next) : length];
}

/** The mark before or behind a place; the beginning before the first. */
export function markBeside(marks: readonly { frame: number }[], position: number, way: -1 | 1, slackFrames: number): number | null {
  const frames = marks.map(({ frame }) => frame);
  if (way > 0) return frames.filter((frame) => frame > position).reduce<number | null>((a, b) => (a === null ? b : Math.min(a, b)), null);
  return frames.filter((frame) => frame < position - slackFrames).reduce((a, b) => Math.max(a, b), 0);
}

interface Lane {
  id: string;
  name: string;
  lane: number | null;
}

/** Tracks that a print pass can record: those with a lane; the take's own among them, for they hear themselves. */
export function printable(
  tracks: Lane[],
  take: { files: { track: string }[] },
): { id: string; name: string; lane: number; own: boolean }[] {
  const own = new Set(take.files.map(({ track }) => track));
  return tracks.flatMap(({ id, name, lane }) => (lane === null ? [] : [{ id, name, lane, own: own.has(id) }]));
}
