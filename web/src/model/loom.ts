import type { Knot, Loom } from "../api/client";

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
const RIGHT = 124;
const TOP = 44;

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

/** All places on one thread with a place: everything up and down the strands from it. */
export function wholeThread(loom: Loom, id: string): Set<string> {
  const lit = new Set([id]);
  const spread = (from: "from" | "to", to: "from" | "to") => {
    const queue = [id];
    for (let place = queue.pop(); place !== undefined; place = queue.pop()) {
      for (const strand of loom.strands) {
        if (strand[from] === place && !lit.has(strand[to])) {
          lit.add(strand[to]);
          queue.push(strand[to]);
        }
      }
    }
  };
  spread("from", "to");
  spread("to", "from");
  return lit;
}

/** Blocks of places that nothing runs through: long posts fold there. */
export function quietPlaces(loom: Loom, keep: number): Set<string> {
  const busy = new Set(loom.strands.filter((strand) => strand.row !== null).flatMap((strand) => [strand.from, strand.to]));
  for (const fray of loom.frays) for (const id of wholeThread(loom, fray.to)) busy.add(id);
  const quiet = new Set<string>();
  for (const post of loom.posts) {
    const last = post.knots.reduce((found, knot, i) => (busy.has(knot.id) ? i : found), -1);
    const shown = Math.max(keep, Math.ceil((last + 1) / 8) * 8);
    post.knots.forEach((knot, i) => {
      if (i >= shown && !busy.has(knot.id)) quiet.add(knot.id);
    });
  }
  return quiet;
}

/** Where an arrow key leads from a place. */
export function neighbour(loom: Loom, picture: Picture, id: string, key: string): string {
  const here = picture.placed.get(id);
  if (!here) return id;
  const step = key === "ArrowLeft" || key === "ArrowUp" ? -1 : 1;
  const sideways = key === "ArrowLeft" || key === "ArrowRight";
  const post = loom.posts[here.post + (sideways ? step : 0)];
  if (!post) return id;
  const shown = post.knots.filter((knot) => picture.placed.has(knot.id));
  return shown[Math.min(shown.length - 1, Math.max(0, here.place + (sideways ? 0 : step)))]?.id ?? id;
}

/** Dashes of a stitch: colour is never the only sign of a group. */
export const stitchDashes: Record<string, string> = { solid: "", double: "", dash: "9 5", dot: "2 5" };
