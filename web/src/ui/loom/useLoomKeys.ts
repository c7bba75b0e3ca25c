import { type KeyboardEvent, useState } from "react";
import type { Loom } from "../../api/client";
import { neighbour, type Picture } from "../../model/loom";

interface Hands {
  loom: Loom;
  picture: Picture;
  cursor: string | null;
  held: string | null;
  run: number;
  canJoin: boolean;
  look: (id: string) => void;
  take: (id: string) => void;
  drop: (id: string) => void;
  letGo: () => void;
  /** Takes off what comes to a place. */
  free?: (id: string) => void;
  changeRun: (count: number) => void;
  zoomBy: (factor: number) => void;
}

/** The loom from the keyboard: arrows, digits, Enter, runs, Escape, zoom. */
export function useLoomKeys(hands: Hands) {
  const [digits, setDigits] = useState("");
  const { loom, picture, cursor, held, run } = hands;

  function jump(digit: string) {
    const post = loom.posts[(cursor ? picture.placed.get(cursor)?.post : 0) ?? 0];
    const shown = post?.knots.filter((knot) => picture.placed.has(knot.id));
    const whole = shown?.find((knot) => String(knot.number) === digits + digit);
    const target = whole ?? shown?.find((knot) => String(knot.number) === digit);
    setDigits(whole ? digits + digit : digit);
    if (target) hands.look(target.id);
  }

  return (event: KeyboardEvent) => {
    const at = cursor ?? loom.posts[0]?.knots[0]?.id ?? loom.posts[1]?.knots[0]?.id;
    if (at === undefined) return;
    if (event.key.startsWith("Arrow")) {
      event.preventDefault();
      setDigits("");
      if (event.shiftKey && held && event.key === "ArrowDown") hands.changeRun(run + 1);
      else if (event.shiftKey && held && event.key === "ArrowUp") hands.changeRun(Math.max(1, run - 1));
      else hands.look(cursor ? neighbour(loom, picture, at, event.key) : at);
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      if (held) hands.drop(at);
      else if (hands.canJoin) hands.take(at);
    } else if (event.key === "Escape") hands.letGo();
    else if ((event.key === "Delete" || event.key === "Backspace") && cursor) hands.free?.(cursor);
    else if (event.key === "r" && held && !event.ctrlKey) hands.changeRun(8);
    else if (event.key === "+") hands.zoomBy(1.2);
    else if (event.key === "-") hands.zoomBy(1 / 1.2);
    else if (/^\d$/.test(event.key)) jump(event.key);
  };
}
