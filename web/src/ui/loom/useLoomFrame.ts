import { type MouseEvent, type PointerEvent, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Picture } from "../../model/loom";
import { TITLES_HEIGHT } from "./Posts";

const ZOOM_MIN = 0.2;
const ZOOM_MAX = 2;
/** Room that a place takes with its label, to either side. */
const LABEL_PX = 124;

const NARROWEST_PX = 440;

const widthOf = (box: HTMLElement) => Math.max(NARROWEST_PX, box.clientWidth);
const clampZoom = (zoom: number) => Math.max(ZOOM_MIN, Math.min(ZOOM_MAX, zoom));

/** How far a scroll must be moved so that a stretch lies in sight. */
const within = (scroll: number, from: number, to: number, length: number) =>
  from < scroll ? Math.max(0, from) : to > scroll + length ? to - length : scroll;

/** The frame that a loom is looked at through: its width, zoom by wheel and button, moving about in it. */
export function useLoomFrame() {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [zoom, setZoom] = useState(1);
  const pan = useRef<{ x: number; y: number } | null>(null);

  // Known before the first picture is shown: a loom that is too wide for one frame pushes all of its page aside.
  useLayoutEffect(() => {
    if (frame.current) setWidth(widthOf(frame.current));
  }, []);

  useEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watcher = new ResizeObserver(() => setWidth(widthOf(box)));
    watcher.observe(box);
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      setZoom((now) => clampZoom(now * (event.deltaY < 0 ? 1.1 : 1 / 1.1)));
    };
    // A finger on a grip scrolls nothing. Said here and not as touch-action, which browsers do not heed inside a picture.
    const onTouch = (event: TouchEvent) => {
      if (event.target instanceof Element && event.target.closest("[data-grip], [data-bracket]")) event.preventDefault();
    };
    box.addEventListener("touchstart", onTouch, { passive: false });
    box.addEventListener("wheel", onWheel, { passive: false });
    return () => {
      watcher.disconnect();
      box.removeEventListener("touchstart", onTouch);
      box.removeEventListener("wheel", onWheel);
    };
  }, []);

  return {
    frame,
    width,
    zoom,
    /** As large as all of it has room, or as before if it was so already. */
    zoomToHeight: (height: number) => {
      const room = (frame.current?.clientHeight ?? height) - TITLES_HEIGHT;
      const whole = clampZoom(Math.min(1, room / height));
      setZoom((now) => (Math.abs(now - whole) < 0.01 ? 1 : whole));
    },
    zoomBy: (by: number) => setZoom((now) => clampZoom(now * by)),
    panFrom: ({ clientX, clientY }: MouseEvent) => {
      pan.current = { x: clientX, y: clientY };
    },
    /** Whether the picture was moved along with the pointer. */
    panTo: ({ clientX, clientY }: PointerEvent): boolean => {
      const box = frame.current;
      if (!pan.current || !box) return false;
      box.scrollLeft -= clientX - pan.current.x;
      box.scrollTop -= clientY - pan.current.y;
      pan.current = { x: clientX, y: clientY };
      return true;
    },
    panEnds: () => {
      pan.current = null;
    },
    isPanned: () => pan.current !== null,
  };
}

/** Brings what the keyboard leads to into sight, also when it was folded until now. Call `follow` before the cursor moves. */
export function useInSight(frame: React.RefObject<HTMLDivElement | null>, picture: Picture, zoom: number, cursor: string | null) {
  const byKey = useRef(false);
  useEffect(() => {
    const box = frame.current;
    const at = cursor ? picture.placed.get(cursor) : undefined;
    if (!byKey.current || !box || !at) return;
    byKey.current = false;
    const [x, y] = [at.x * zoom, at.y * zoom + TITLES_HEIGHT];
    const row = picture.rowHeight * zoom;
    box.scrollTo({
      left: within(box.scrollLeft, x - LABEL_PX * zoom, x + LABEL_PX * zoom, box.clientWidth),
      top: within(box.scrollTop, y - TITLES_HEIGHT - row, y + row, box.clientHeight),
    });
  }, [frame, cursor, picture, zoom]);
  return {
    follow: () => {
      byKey.current = true;
    },
  };
}
