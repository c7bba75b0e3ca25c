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

/** "Chorus 2" and "Chorus" are of one kind. */
const plain = (name: string) => name.toLowerCase().replace(/[\s\d]+$/, "");

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
