import { ownId } from "./ownId";

export interface Section {
  id: string;
  name: string;
  bar: number;
  colour?: string | null;
}

/** Dyes that follow each other well, for sections that are new. */
const DYES = ["woad", "weld", "madder", "walnut", "lichen", "cochineal", "indigo", "slate"];

/** A section more, by bar; one that begins there already is called so instead. What is called as another has its dye. */
export function withSection(sections: Section[], bar: number, name: string): Section[] {
  const alike = sections.find((one) => plain(one.name) === plain(name));
  const used = new Set(sections.map(({ name: other }) => plain(other))).size;
  const colour = alike?.colour ?? DYES[used % DYES.length] ?? null;
  const others = sections.filter((one) => one.bar !== bar);
  return [
    ...others,
    {
      id: ownId(
        name,
        others.map(({ id }) => id),
        "part",
      ),
      name,
      bar,
      colour,
    },
  ].sort((one, other) => one.bar - other.bar);
}

/**
 * A section from one bar up to another; what sounded behind it still does. What began within it and was over by then is
 * gone; what began within it and goes on begins behind it.
 */
export function drawn(sections: Section[], from: number, to: number, name: string, bars: number): Section[] {
  const before = sections.findLast(({ bar }) => bar <= to);
  const goesOn = to <= bars && before && before.bar < to ? before : null;
  const left = sections.filter((one) => one.bar < from || one.bar >= to || one === goesOn);
  const behind =
    goesOn && goesOn.bar < from ? withSection(left, to, goesOn.name) : left.map((one) => (one === goesOn ? { ...one, bar: to } : one));
  return withSection(behind, from, name);
}

/** A section that begins at another bar: never at or past its neighbours'. */
export function movedTo(sections: Section[], id: string, bar: number, bars: number): Section[] {
  const at = sections.findIndex((one) => one.id === id);
  const least = (sections[at - 1]?.bar ?? 0) + 1;
  const most = (sections[at + 1]?.bar ?? bars + 1) - 1;
  return sections.map((one) => (one.id === id ? { ...one, bar: Math.max(least, Math.min(most, bar)) } : one));
}

/** The bar, from 1, in which a frame lies; `bars` are the frames at which they begin, and the last one's end. */
export function barAt(bars: number[], frame: number): number {
  let [low, high] = [0, Math.max(0, bars.length - 2)];
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((bars[middle] ?? 0) <= frame) low = middle;
    else high = middle - 1;
  }
  return low + 1;
}

/** "Chorus 2" and "Chorus" are of one kind. */
const plain = (name: string) => name.toLowerCase().replace(/[\s\d]+$/, "");

/** A song as it plays at one of its tempi. */
export function songAt<One extends AtTempi>(song: One, percent: number | null | undefined): One {
  const at = song.at_tempi?.find((one) => one.percent === percent);
  if (!at || percent === song.percent) return song;
  const sections = song.sections.map((section, index) => {
    const [from_frame, to_frame] = at.sections[index] ?? [section.from_frame, section.to_frame];
    return { ...section, from_frame: from_frame ?? section.from_frame, to_frame: to_frame ?? section.to_frame };
  });
  return { ...song, percent, playing_frames: at.playing_frames, sections };
}

interface AtTempi {
  percent: number;
  playing_frames: number;
  sections: Placed[];
  at_tempi?: { percent: number; playing_frames: number; sections: number[][] }[];
}

interface Placed {
  name: string;
  from_frame: number;
  to_frame: number;
}

/** Which section sounds at a frame of what plays, and which comes then. */
export function sectionAt<One extends Placed>(sections: One[], frame: number): { now: One | null; next: One | null } {
  const at = sections.findIndex(({ from_frame, to_frame }) => frame >= from_frame && frame < to_frame);
  if (at >= 0) return { now: sections[at] ?? null, next: sections[at + 1] ?? null };
  return { now: null, next: sections.find(({ from_frame }) => from_frame > frame) ?? null };
}
