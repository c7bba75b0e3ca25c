import { type MouseEvent, useEffect, useRef, useState } from "react";
import type { Loom } from "../../api/client";
import { areJoined, bracketOf, postOfFold } from "../../model/loom";
import type { Aim, Hold } from "./HoldChip";

interface Hands {
  loom: Loom;
  cursor: string | null;
  onAim?: (aim: Aim | null) => void;
  onJoin?: (aim: Aim) => void;
  onPart?: (from: string, to: string | null) => void;
  onLost?: (label: string) => void;
}

/** From so far on a press is a drag, in pixels. */
const DRAG_PX = 6;

/** What is in the hand at a loom, from where it was picked up to where it is laid or let go. */
export function useHold({ loom, cursor, onAim, onJoin, onPart, onLost }: Hands) {
  const [hold, setHold] = useState<Hold | null>(null);
  /** Where a thread was picked up, as long as the button is down. */
  const press = useRef<{ x: number; y: number } | null>(null);

  const aimAt = ({ id, block, run }: Hold, to: string): Aim => ({
    from: id,
    to,
    count: run,
    block,
    part: onPart !== undefined && !block && run === 1 && areJoined(loom, id, to),
  });

  /** Picks up a place, or the whole block that it stands in. */
  function take(id: string, block = false) {
    const bracket = block ? bracketOf(loom, id) : null;
    if (block && !bracket) return;
    const knot = loom.posts.flatMap(({ knots }) => knots).find((one) => one.id === id);
    setHold({
      id: bracket?.first ?? id,
      block: bracket !== null,
      run: 1,
      label: bracket ? `the block ${bracket.label}` : (knot?.label ?? id),
    });
  }

  function letGo() {
    setHold(null);
    onAim?.(null);
  }

  /** Laid where a thread lies already, the thread comes off. */
  function drop(to: string) {
    if (hold && hold.id !== to) {
      const aim = aimAt(hold, to);
      if (aim.part) onPart?.(hold.id, to);
      else onJoin?.(aim);
    }
    letGo();
  }

  function free(id: string) {
    onPart?.(id, null);
    letGo();
  }

  function changeRun(run: Hold["run"]) {
    if (!hold) return;
    const longer = { ...hold, run };
    setHold(longer);
    if (cursor && cursor !== hold.id && postOfFold(cursor) === null) onAim?.(aimAt(longer, cursor));
  }

  const now = useRef({ letGo, label: "" });
  now.current = { letGo, label: hold?.label ?? "" };

  // Gear may be taken out by somebody else while it is held.
  const lost = hold !== null && !loom.posts.some(({ knots }) => knots.some(({ id }) => id === hold.id));
  useEffect(() => {
    if (!lost) return;
    onLost?.(now.current.label);
    now.current.letGo();
  }, [lost, onLost]);

  // A drag that ends on no place lets go, wherever it ends; so does Escape, whatever has the focus.
  const holds = hold !== null;
  useEffect(() => {
    if (!holds) return;
    const onRelease = (event: globalThis.PointerEvent) => {
      const from = press.current;
      press.current = null;
      const knot = event.target instanceof Element ? event.target.closest("[data-knot], [data-bracket]") : null;
      if (from && !knot && Math.hypot(event.clientX - from.x, event.clientY - from.y) > DRAG_PX) now.current.letGo();
    };
    const onEscape = (event: globalThis.KeyboardEvent) => event.key === "Escape" && now.current.letGo();
    window.addEventListener("pointerup", onRelease);
    window.addEventListener("pointercancel", onRelease);
    window.addEventListener("keydown", onEscape);
    return () => {
      window.removeEventListener("pointerup", onRelease);
      window.removeEventListener("pointercancel", onRelease);
      window.removeEventListener("keydown", onEscape);
    };
  }, [holds]);

  return {
    hold,
    aimAt,
    take,
    letGo,
    drop,
    free,
    changeRun,
    /** Aims what is held at a place, or at none. */
    aim: (place: string | null) => hold && onAim?.(place && place !== hold.id ? aimAt(hold, place) : null),
    pressed: ({ clientX, clientY }: MouseEvent) => {
      press.current = { x: clientX, y: clientY };
    },
  };
}
