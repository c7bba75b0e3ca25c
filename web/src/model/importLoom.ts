import type { ImportPlan, Loom, Show } from "../api/client";
import { numberOf } from "./format";

/** Which track each channel of a file goes to, by the channel's key. */
export type Settled = Record<string, string>;

/** A channel of a file as a place on the loom. */
export interface Part {
  key: string;
  channel: number;
  of: ImportPlan["files"][number];
}

/** Every channel of every file that could be read. */
export const parts = (plan: ImportPlan): Part[] =>
  plan.files.flatMap((file) =>
    Array.from({ length: file.holds?.channels ?? 0 }, (_, i) => ({ key: `${file.number}#${i + 1}`, channel: i + 1, of: file })),
  );

/** "07 Kick", and which of its channels where it has several. */
export function partName({ of, channel }: Part): string {
  const named = of.holds?.names?.[channel - 1];
  return `${of.title.replace(/\.\w+$/, "")}${(of.holds?.channels ?? 1) > 1 ? ` · ${named || channel}` : ""}`;
}

/** What all their names begin with, up to where a word ends: on the loom it would push out what tells them apart. */
export function sharedStart(titles: readonly string[]): string {
  const [first = "", ...others] = titles;
  if (others.length === 0) return "";
  let end = 0;
  while (end < first.length && others.every((title) => title[end] === first[end])) end += 1;
  return first.slice(0, end).replace(/[^_\s.-]*$/, "");
}

const FILES = "files/part/";
const placeOf = (at: number) => `${FILES}${at + 1}`;

/**
 * Files, tracks, return lanes and channels as one loom. What a name only guesses has a thread without a colour, until
 * somebody lays it.
 */
export function importLoom(plan: ImportPlan, settled: Settled, sure: ReadonlySet<string>, show: Show): Loom {
  const all = parts(plan);
  const start = sharedStart(plan.files.map(({ title }) => title)).length;
  const tracks = new Map(show.tracks.map((track) => [track.id, track]));
  const knot = (
    id: string,
    number: number | string,
    label: string,
    from?: { colour: string | null; stitch: string | null; row: string | null },
  ) => ({
    id,
    number,
    label,
    name: null,
    present: true,
    aside: false,
    row: from?.row ?? null,
    colour: from?.colour ?? null,
    stitch: from?.stitch ?? null,
    pair: null,
  });
  const strand = (
    from: string,
    to: string,
    dye: { colour: string | null; stitch: string | null; row: string | null } | null,
    note: string | null,
  ) => ({
    from,
    to,
    tap: null,
    live: true,
    row: dye?.row ?? null,
    colour: dye?.colour ?? null,
    stitch: dye?.stitch ?? null,
    pair: false,
    note,
  });
  const laid = all.flatMap(({ key }, at) => {
    const track = tracks.get(settled[key] ?? "");
    return track ? [strand(placeOf(at), track.id, sure.has(key) ? track : null, sure.has(key) ? null : "is it so?")] : [];
  });
  const back = show.tracks.filter((track) => track.return_lane !== null);
  const lanes = [...new Set(back.map((track) => track.return_lane ?? 0))].sort((one, other) => one - other);
  const heard = show.tracks.filter((track) => track.channel !== null);
  return {
    posts: [
      {
        key: "file",
        title: "File",
        knots: all.map((part, at) => knot(placeOf(at), at + 1, partName(part).slice(start) || partName(part))),
        brackets: [],
      },
      {
        key: "track",
        title: "Track",
        knots: show.tracks.map((track) => knot(track.id, `${track.number} ${track.name}`, track.name, track)),
        brackets: [],
      },
      { key: "return", title: "Return lane", knots: lanes.map((lane) => knot(`back/lane/${lane}`, lane, `lane ${lane}`)), brackets: [] },
      {
        key: "channel",
        title: "Channel",
        knots: [...new Set(heard.map(({ channel }) => channel ?? ""))].map((id) => knot(id, numberOf(id), `channel ${numberOf(id)}`)),
        brackets: [],
      },
    ],
    strands: [
      ...laid,
      ...back.map((track) => strand(track.id, `back/lane/${track.return_lane}`, track, null)),
      // What shares a lane arrives where that lane's own track does.
      ...back.flatMap((track) =>
        track.channel && !track.beside ? [strand(`back/lane/${track.return_lane}`, track.channel, track, null)] : [],
      ),
    ],
    frays: [],
  };
}

/** What is settled when a thread is laid from a file to a track, or a run of them one to one onward. */
export function laidOn(
  plan: ImportPlan,
  settled: Settled,
  show: Show,
  from: string,
  to: string,
  count: number | "end",
): [Settled, string[]] | null {
  const [file, track] = from.startsWith(FILES) ? [from, to] : [to, from];
  const all = parts(plan);
  const first = Number(file.slice(FILES.length)) - 1;
  const onto = show.tracks.findIndex(({ id }) => id === track);
  if (!file.startsWith(FILES) || onto < 0 || !all[first]) return null;
  const many = count === "end" ? Math.min(all.length - first, show.tracks.length - onto) : count;
  const now = { ...settled };
  const keys: string[] = [];
  for (let n = 0; n < many; n++) {
    const [part, one] = [all[first + n], show.tracks[onto + n]];
    if (!part || !one) break;
    // A track takes one file: whichever was there comes off.
    for (const [key, id] of Object.entries(now)) if (id === one.id) delete now[key];
    now[part.key] = one.id;
    keys.push(part.key);
  }
  return [now, keys];
}

/** What is settled when whatever is laid at a place comes off; null where nothing does. */
export function takenOff(plan: ImportPlan, settled: Settled, from: string, to: string | null): Settled | null {
  const all = parts(plan);
  const at = [from, to].find((id) => id?.startsWith(FILES));
  const key = at ? all[Number(at.slice(FILES.length)) - 1]?.key : Object.entries(settled).find(([, track]) => track === from)?.[0];
  if (key === undefined || !(key in settled)) return null;
  const { [key]: _, ...rest } = settled;
  return rest;
}

/** Tracks that stay silent on purpose, and what is left out: by name, for a line of words. */
export function leftOver(plan: ImportPlan, settled: Settled): { silent: string[]; out: string[] } {
  const filled = new Set(Object.values(settled));
  return {
    silent: plan.tracks.filter(({ id }) => !filled.has(id)).map(({ name }) => name),
    out: parts(plan)
      .filter(({ key }) => !(key in settled))
      .map(partName),
  };
}

/** Starts with one file so many frames later than another; where that is before the take's beginning, all others wait. */
export function startingLater(starts: Record<number, number>, file: number, like: number, frames: number): Record<number, number> {
  const at = (starts[like] ?? 0) + frames;
  const wait = Math.max(-at, 0);
  const others = Object.keys(starts).map((key) => [key, (starts[Number(key)] ?? 0) + wait]);
  return { ...Object.fromEntries(others), [file]: at + wait };
}
