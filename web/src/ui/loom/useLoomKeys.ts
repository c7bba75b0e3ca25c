import { type KeyboardEvent, useState } from "react";
import type { Loom } from "../../api/client";
import { neighbour, numbered, type Picture, postOfFold } from "../../model/loom";
import type { Hold } from "./HoldChip";

interface Hands {
  loom: Loom;
  picture: Picture;
  cursor: string | null;
  hold: Hold | null;
  canJoin: boolean;
  look: (id: string) => void;
  /** Picks up a place, or the whole block that it stands in. */
  take: (id: string, block?: boolean) => void;
  drop: (id: string) => void;
  letGo: () => void;
  /** Takes off what comes to a place. */
  free?: (id: string) => void;
  rename?: (id: string) => void;
  changeRun: (run: Hold["run"]) => void;
  unfold: (post: string) => void;
  unfoldAll: () => void;
  zoomBy: (factor: number) => void;
  /** All of it at once, or as before. */
  zoomToAll: () => void;
}

/** What digits mean that are typed: the number of a place, or after R the length of the run. */
type Digits = { of: "place" | "run"; typed: string };
const NONE: Digits = { of: "place", typed: "" };

/** The loom from the keyboard: arrows, digits, Enter, runs, blocks, names, Escape, folds, zoom. */
export function useLoomKeys(hands: Hands) {
  const [digits, setDigits] = useState<Digits>(NONE);
  const { loom, picture, cursor, hold } = hands;

  function jump(digit: string) {
    const folded = cursor ? postOfFold(cursor) : null;
    const post = folded === null ? (cursor ? picture.placed.get(cursor)?.post : 0) : loom.posts.findIndex(({ key }) => key === folded);
    const found = numbered(loom, post ?? 0, digits.typed + digit);
    setDigits({ of: "place", typed: found?.digits ?? digit });
    if (!found) return;
    const key = loom.posts[post ?? 0]?.key;
    if (key && !picture.placed.has(found.id)) hands.unfold(key);
    hands.look(found.id);
  }

  function runOf(digit: string) {
    const typed = digits.typed + digit;
    setDigits({ of: "run", typed });
    hands.changeRun(Math.min(RUN_MAX, Math.max(1, Number(typed))));
  }

  /** Eight; once more: to the end. Digits behind it are its length. */
  function run(now: Hold["run"]) {
    setDigits({ of: "run", typed: "" });
    hands.changeRun(now === RUN_OF_A_KEY ? "end" : RUN_OF_A_KEY);
  }

  function act(at: string) {
    const folded = postOfFold(at);
    if (folded !== null) hands.unfold(folded);
    else if (hold) hands.drop(at);
    else if (hands.canJoin) hands.take(at);
  }

  return (event: KeyboardEvent) => {
    const at = cursor ?? loom.posts[0]?.knots[0]?.id ?? loom.posts[1]?.knots[0]?.id;
    if (at === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
    const place = cursor !== null && postOfFold(cursor) === null ? cursor : null;
    if (/^\d$/.test(event.key)) return digits.of === "run" && hold ? runOf(event.key) : jump(event.key);
    if (event.key !== "r" && event.key !== "Shift") setDigits(NONE);
    if (event.key.startsWith("Arrow")) {
      event.preventDefault();
      const sofar = hold && hold.run !== "end" ? hold.run : 1;
      if (event.shiftKey && hold && event.key === "ArrowDown") hands.changeRun(sofar + 1);
      else if (event.shiftKey && hold && event.key === "ArrowUp") hands.changeRun(Math.max(1, sofar - 1));
      else hands.look(cursor ? neighbour(loom, picture, at, event.key) : at);
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      act(at);
    } else if (event.key === "Escape") hands.letGo();
    else if (event.key === "End" && hold) {
      event.preventDefault();
      hands.changeRun("end");
    } else if ((event.key === "Delete" || event.key === "Backspace") && place) hands.free?.(place);
    else if (event.key === "F2" && place) hands.rename?.(place);
    else if (event.key === "r" && hold && !hold.block) run(hold.run);
    else if (event.key === "b" && !hold && place && hands.canJoin) hands.take(place, true);
    else if (event.key === "u") hands.unfoldAll();
    else if (event.key === "w") hands.zoomToAll();
    else if (event.key === "+") hands.zoomBy(1.2);
    else if (event.key === "-") hands.zoomBy(1 / 1.2);
  };
}

const RUN_OF_A_KEY = 8;
const RUN_MAX = 512;
