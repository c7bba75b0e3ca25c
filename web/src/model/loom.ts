import type { Knot, Loom, Strand } from "../api/client";

/** Where everything of a loom lies, in pixels. Pure geometry: no React, no DOM. */
export interface Placed {
  x: number;
  y: number;
  knot: Knot;
  post: number;
  place: number;
}

export interface Picture {
  placed: Map<string, Placed>;
  postX: number[];
  width: number;
  height: number;
  rowHeight: number;
}

/** Room for the labels left of the first post and right of the last one. */
const LEFT = 150;
const RIGHT = 144;
const TOP = 14;

export function layOut(loom: Loom, width: number, rowHeight: number, folded: ReadonlySet<string>): Picture {
  const gaps = Math.max(1, loom.posts.length - 1);
  const postX = loom.posts.map((_, i) => LEFT + ((width - LEFT - RIGHT) * i) / gaps);
  const placed = new Map<string, Placed>();
  loom.posts.forEach((post, index) => {
    let place = 0;
    for (const knot of post.knots) {
      if (folded.has(knot.id)) continue;
      placed.set(knot.id, { x: postX[index] ?? 0, y: TOP + place * rowHeight + rowHeight / 2, knot, post: index, place });
      place += 1;
    }
  });
  const longest = Math.max(0, ...loom.posts.map((post) => post.knots.filter((knot) => !folded.has(knot.id)).length));
  return { placed, postX, width, height: TOP + longest * rowHeight + 16, rowHeight };
}

/** In the middle a number is enough; boxes, mixes and what has a name say it. */
export function midLabel(knot: Knot): string {
  if (knot.aside) return cut(knot.name ?? knot.label, 13);
  if (knot.label.includes("(")) return cut(knot.label.split(" (")[0] ?? "", 13);
  const box = /^(.+) (?:socket|out) \d+$/.exec(knot.label);
  if (box && box[1] !== "local") return `${(box[1] ?? "").replace("Box ", "")} ${knot.number}`;
  return box ? `local ${knot.number}` : String(knot.number);
}

export const cut = (text: string, length: number) => (text.length > length ? `${text.slice(0, length - 1)}…` : text);

/** A letter of a label is about so wide, in pixels. */
export const LETTER = 6.6;

/** Where a thread that comes from the left ends: before the label, which stands between it and the knot. */
export function threadEnd(to: Placed, from: { x: number }, posts: number): { x: number; y: number } {
  if (to.post === 0 || to.post === posts - 1 || to.x <= from.x) return to;
  return { x: Math.max(from.x, to.x - 14 - midLabel(to.knot).length * LETTER), y: to.y };
}

/** A thread between two knots: level where they lie level, else one soft bend. */
export function threadPath(from: { x: number; y: number }, to: { x: number; y: number }, lift = 0): string {
  const bend = (to.x - from.x) * 0.45;
  return `M${from.x},${from.y + lift} C${from.x + bend},${from.y + lift} ${to.x - bend},${to.y + lift} ${to.x},${to.y + lift}`;
}

/** A thread with, where it frays, what the track that waits for it listens to instead. */
export function threadAndMistakes(loom: Loom, id: string): Set<string> {
  const lit = wholeThread(loom, id);
  for (const fray of loom.frays) if (lit.has(fray.from)) for (const place of wholeThread(loom, fray.to)) lit.add(place);
  return lit;
}

type Ends = Map<string, string[]>;
const indices = new WeakMap<Loom, { from: Ends; to: Ends }>();

/** Strands by their ends, made once a loom: a moving pointer asks often. */
function indexOf(loom: Loom): { from: Ends; to: Ends } {
  const known = indices.get(loom);
  if (known) return known;
  const made = { from: new Map<string, string[]>(), to: new Map<string, string[]>() };
  for (const strand of loom.strands) {
    made.from.set(strand.from, [...(made.from.get(strand.from) ?? []), strand.to]);
    made.to.set(strand.to, [...(made.to.get(strand.to) ?? []), strand.from]);
  }
  indices.set(loom, made);
  return made;
}

/** Where many threads meet in few places, as in mixes, they are drawn thinner until one is lit. */
export const isDense = (loom: Loom): boolean => loom.strands.length > DENSE_THREADS_A_PLACE * Math.max(1, indexOf(loom).to.size);

const DENSE_THREADS_A_PLACE = 3;

/** Whether a thread lies between two places, from either to the other. */
export const areJoined = (loom: Loom, one: string, other: string): boolean =>
  indexOf(loom).from.get(one)?.includes(other) === true || indexOf(loom).from.get(other)?.includes(one) === true;

/** Whether something could be taken off a place: a thread comes to it, or it is a row that is plugged in. */
export const comesToIt = (loom: Loom, id: string): boolean =>
  indexOf(loom).to.has(id) || (id.startsWith("list/") && indexOf(loom).from.has(id));

/**
 * All places on one thread with a place: everything up the strands from it, and everything down from the source
 * that runs in it, so that a thread that passes behind a place is lit from there too.
 */
export function wholeThread(loom: Loom, id: string): Set<string> {
  const { from, to } = indexOf(loom);
  const lit = spread(to, [id], new Set([id]));
  const source = sources(loom).get(id);
  return spread(from, source && lit.has(source) ? [id, source] : [id], lit);
}

function spread(ends: Ends, start: string[], lit: Set<string>): Set<string> {
  const queue = [...start];
  const seen = new Set(start);
  for (let place = queue.pop(); place !== undefined; place = queue.pop()) {
    lit.add(place);
    for (const next of ends.get(place) ?? [])
      if (!seen.has(next)) {
        seen.add(next);
        queue.push(next);
      }
  }
  return lit;
}

const origins = new WeakMap<Loom, Map<string, string | null>>();

/** What runs in each place, by its id. */
function sources(loom: Loom): Map<string, string | null> {
  const known = origins.get(loom) ?? new Map(loom.posts.flatMap((post) => post.knots.map(({ id, row }) => [id, row] as const)));
  origins.set(loom, known);
  return known;
}

/** As tall as a finger needs, in pixels. */
export const FINGER = 44;

/** Rows get closer as there are more of them, so that 32 fit on a laptop; where fingers point they do not. */
export function rowHeightFor(loom: Loom, folded: ReadonlySet<string>, touch = false): number {
  if (touch) return FINGER;
  const longest = Math.max(1, ...loom.posts.map((post) => post.knots.filter((knot) => !folded.has(knot.id)).length));
  return longest > 24 ? 19 : longest > 18 ? 22 : 27;
}

const BLOCK = 8;

/**
 * Whole blocks of places that carry nothing, beyond the first few: long posts fold there, in their
 * middle too, unless somebody unfolded them. Rows never fold: those that lead nowhere yet are the ones that
 * are to be laid. Places that stand aside fold one by one, mains not while they carry something.
 */
export function quietPlaces(loom: Loom, keep: number, unfolded: ReadonlySet<string> = new Set(), wanted: Strand[] = []): Set<string> {
  const busy = new Set(loom.strands.filter((strand) => strand.row !== null).flatMap((strand) => [strand.from, strand.to]));
  for (const fray of loom.frays) for (const id of wholeThread(loom, fray.to)) busy.add(id);
  // What an edit would lay must be seen, wherever it goes.
  for (const strand of wanted) if (strand.row !== null) busy.add(strand.from).add(strand.to);
  const quiet = new Set<string>();
  for (const post of loom.posts) {
    if (post.key === "row" || unfolded.has(post.key)) continue;
    const own = post.knots.filter(({ aside }) => !aside);
    for (let first = keep; first < own.length; first += BLOCK) {
      const block = own.slice(first, first + BLOCK);
      if (block.every((knot) => knot.row === null && !busy.has(knot.id))) for (const knot of block) quiet.add(knot.id);
    }
    for (const knot of post.knots)
      if (knot.aside && !busy.has(knot.id) && !(knot.row !== null && knot.id.includes("/main/"))) quiet.add(knot.id);
  }
  return quiet;
}

/** What stands for the folded places of a post, where a cursor can be. */
export const foldOf = (post: string): string => `fold ${post}`;
export const postOfFold = (id: string): string | null => (id.startsWith("fold ") ? id.slice(5) : null);

/** Where a post jumps over what is folded: the places right behind each gap. */
export const gapsOn = (knots: Knot[], folded: ReadonlySet<string>): string[] =>
  knots.filter((knot, i) => i > 0 && !folded.has(knot.id) && folded.has(knots[i - 1]?.id ?? "")).map(({ id }) => id);

/** Where an arrow key leads from a place; below the last one lies what is folded. */
export function neighbour(loom: Loom, picture: Picture, id: string, key: string): string {
  const step = key === "ArrowLeft" || key === "ArrowUp" ? -1 : 1;
  const sideways = key === "ArrowLeft" || key === "ArrowRight";
  const folded = postOfFold(id);
  const here = folded === null ? picture.placed.get(id) : { post: loom.posts.findIndex((post) => post.key === folded), place: Infinity };
  if (!here) return id;
  const post = loom.posts[here.post + (sideways ? step : 0)];
  if (!post) return id;
  const shown = post.knots.filter((knot) => picture.placed.has(knot.id));
  const wanted = here.place === Infinity ? shown.length + (sideways || step > 0 ? 0 : -1) : here.place + (sideways ? 0 : step);
  if (wanted >= shown.length && shown.length < post.knots.length && (!sideways || here.place === Infinity)) return foldOf(post.key);
  return shown[Math.min(shown.length - 1, Math.max(0, wanted))]?.id ?? id;
}

/** The place of a number on a post, folded or not, where digits were typed: of all of them, else of the last. */
export function numbered(loom: Loom, post: number, digits: string): { id: string; digits: string } | null {
  for (const typed of [digits, digits.slice(-1)]) {
    const found = loom.posts[post]?.knots.find((knot) => String(knot.number) === typed);
    if (found) return { id: found.id, digits: typed };
  }
  return null;
}

/** The bracket that a place stands in, where its block is not opened. */
export function bracketOf(loom: Loom, id: string): { post: number; first: string; last: string; label: string } | null {
  for (const [post, { brackets, knots }] of loom.posts.entries()) {
    const at = knots.findIndex((knot) => knot.id === id);
    if (at === -1) continue;
    const found = brackets.find(
      ({ first, last, opened }) =>
        !opened && knots.findIndex((knot) => knot.id === first) <= at && at <= knots.findIndex((knot) => knot.id === last),
    );
    if (found) return { post, first: found.first, last: found.last, label: found.label };
  }
  return null;
}

/** Dashes of a stitch: colour is never the only sign of a group. */
export const stitchDashes: Record<string, string> = { solid: "", double: "", dash: "9 5", dot: "2 5" };

/**
 * At which end a thread has room for its note: the place where no other of these threads ends. In a dense loom
 * only what is lit says it.
 */
export function noteEnds(strands: readonly Strand[], lit: boolean, dense: boolean): { strand: Strand; at: string }[] {
  if (dense && !lit) return [];
  const ends = new Map<string, number>();
  for (const end of strands.flatMap(({ from, to }) => [`from ${from}`, `to ${to}`])) ends.set(end, (ends.get(end) ?? 0) + 1);
  return strands.flatMap((strand) => {
    if (!strand.note) return [];
    if (ends.get(`to ${strand.to}`) === 1) return [{ strand, at: strand.to }];
    return ends.get(`from ${strand.from}`) === 1 ? [{ strand, at: strand.from }] : [];
  });
}
