import AddIcon from "@mui/icons-material/Add";
import RemoveIcon from "@mui/icons-material/Remove";
import { Box, Button, IconButton, useTheme } from "@mui/material";
import { type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import type { Loom as LoomData, Strand } from "../../api/client";
import { areJoined, comesToIt, layOut, quietPlaces, rowHeightFor, threadAndMistakes, threadPath } from "../../model/loom";
import { hitBox, Places } from "./Places";
import { Posts, PostTitles, TITLES_HEIGHT } from "./Posts";
import { Ghosts, Threads } from "./Threads";
import { useLoomKeys } from "./useLoomKeys";

interface Props {
  loom: LoomData;
  /** Places to light from outside, e.g. what a finding is about. */
  shown?: string[];
  /** Places on a post shown at least, even when nothing runs there. */
  keep?: number;
  label: string;
  /** Strands as they would be after an edit that is only looked at yet. */
  preview?: Strand[];
  empty?: string;
  onFocus: (id: string | null) => void;
  /** What is held over another place: somebody may want to see first what it would do. */
  onAim?: (aim: Aim | null) => void;
  /** Two places were joined; a run lays so many one to one onward. */
  onJoin?: (from: string, to: string, count: number) => void;
  /** What is laid between two places comes off, or whatever comes to one. */
  onPart?: (from: string, to: string | null) => void;
  /** Keys take nothing off, since a stray one could. */
  keysHeld?: boolean;
}

/** Two places, how many onward, and whether the thread between them would come off. */
export interface Aim {
  from: string;
  to: string;
  count: number;
  part: boolean;
}

const ZOOM_MIN = 0.5;
const ZOOM_MAX = 2;
/** From so far on a press is a drag, in pixels. */
const DRAG_PX = 6;

/**
 * The picture of all threads: upright posts, knots on them, threads between them. What is lit is drawn
 * once more over the dimmed picture, so that a moving pointer repaints one thread and not all.
 */
export function Loom({ loom, shown, keep = 16, label, preview, empty, onFocus, onAim, onJoin, onPart, keysHeld }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [zoom, setZoom] = useState(1);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [cursor, setCursor] = useState<string | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const [run, setRun] = useState(1);
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  const pan = useRef<{ x: number; y: number } | null>(null);
  /** Where a thread was picked up, as long as the button is down. */
  const press = useRef<{ x: number; y: number } | null>(null);
  const theme = useTheme();
  const folded = useMemo(() => quietPlaces(loom, keep, unfolded, preview), [loom, keep, unfolded, preview]);
  const picture = useMemo(() => layOut(loom, width, rowHeightFor(loom, folded), folded), [loom, width, folded]);
  const lit = useMemo(() => (cursor ? threadAndMistakes(loom, cursor) : shown?.length ? new Set(shown) : null), [loom, cursor, shown]);

  useEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watcher = new ResizeObserver(() => setWidth(Math.max(440, box.clientWidth)));
    watcher.observe(box);
    return () => watcher.disconnect();
  }, []);

  useEffect(() => {
    const box = frame.current;
    if (!box) return;
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      setZoom((now) => clampZoom(now * (event.deltaY < 0 ? 1.1 : 1 / 1.1)));
    };
    box.addEventListener("wheel", onWheel, { passive: false });
    return () => box.removeEventListener("wheel", onWheel);
  }, []);

  function look(id: string | null) {
    setCursor(id);
    onFocus(id);
    if (held) onAim?.(id && id !== held ? aimAt(held, id, run) : null);
  }

  const aimAt = (from: string, to: string, count: number): Aim => ({
    from,
    to,
    count,
    part: onPart !== undefined && count === 1 && areJoined(loom, from, to),
  });

  /** Laid where a thread lies already, the thread comes off. */
  function drop(to: string) {
    if (held && held !== to) {
      if (aimAt(held, to, run).part) onPart?.(held, to);
      else onJoin?.(held, to, run);
    }
    letGo();
  }

  function free(id: string) {
    onPart?.(id, null);
    letGo();
  }

  function letGo() {
    setHeld(null);
    setRun(1);
    setPointer(null);
    onAim?.(null);
  }

  // A drag that ends on no place lets go, wherever it ends; so does Escape, whatever has the focus.
  const release = useRef(letGo);
  release.current = letGo;
  useEffect(() => {
    if (!held) return;
    const onRelease = (event: globalThis.PointerEvent) => {
      const from = press.current;
      press.current = null;
      const knot = event.target instanceof Element ? event.target.closest("[data-knot]") : null;
      if (from && !knot && Math.hypot(event.clientX - from.x, event.clientY - from.y) > DRAG_PX) release.current();
    };
    const onEscape = (event: globalThis.KeyboardEvent) => event.key === "Escape" && release.current();
    window.addEventListener("pointerup", onRelease);
    window.addEventListener("pointercancel", onRelease);
    window.addEventListener("keydown", onEscape);
    return () => {
      window.removeEventListener("pointerup", onRelease);
      window.removeEventListener("pointercancel", onRelease);
      window.removeEventListener("keydown", onEscape);
    };
  }, [held]);

  function changeRun(count: number) {
    setRun(count);
    if (held && cursor && cursor !== held) onAim?.(aimAt(held, cursor, count));
  }

  const onKey = useLoomKeys({
    loom,
    picture,
    cursor,
    held,
    run,
    canJoin: onJoin !== undefined,
    look,
    take: setHeld,
    drop,
    letGo,
    free: onPart && !keysHeld ? free : undefined,
    changeRun,
    zoomBy: (by) => setZoom((now) => clampZoom(now * by)),
  });

  /** The place under a pointer; nothing of this model that is not there. */
  function placeUnder(event: PointerEvent): string | null {
    const knot = (event.target as Element).closest("[data-knot]")?.getAttribute("data-knot") ?? null;
    return knot;
  }
  const present = (id: string) => picture.placed.get(id)?.knot.present === true;

  function onDown(event: PointerEvent) {
    const fold = (event.target as Element).closest("[data-unfold]")?.getAttribute("data-unfold");
    if (fold) return setUnfolded((before) => new Set([...before, fold]));
    const id = placeUnder(event);
    if (!id) {
      pan.current = { x: event.clientX, y: event.clientY };
    } else if (present(id) && onJoin) {
      if (held) return drop(id);
      press.current = { x: event.clientX, y: event.clientY };
      setHeld(id);
    }
  }

  function onMove(event: PointerEvent) {
    const box = frame.current;
    if (pan.current && box) {
      box.scrollLeft -= event.clientX - pan.current.x;
      box.scrollTop -= event.clientY - pan.current.y;
      pan.current = { x: event.clientX, y: event.clientY };
    } else if (held) {
      const at = event.currentTarget.getBoundingClientRect();
      setPointer({ x: (event.clientX - at.left) / zoom, y: (event.clientY - at.top) / zoom });
    }
  }

  function onUp(event: PointerEvent) {
    pan.current = null;
    const id = placeUnder(event);
    if (id && held && held !== id && present(id)) drop(id);
  }

  const heldAt = held ? picture.placed.get(held) : undefined;
  const cursorAt = cursor ? picture.placed.get(cursor) : undefined;
  const box = cursorAt && hitBox(cursorAt, cursorAt.post === 0, cursorAt.post === loom.posts.length - 1);
  return (
    <Box sx={{ position: "relative", height: "100%" }}>
      <Box ref={frame} sx={{ overflow: "auto", height: "100%", position: "relative" }}>
        {empty && loom.posts[0]?.knots.length === 0 && (
          <Box sx={{ position: "absolute", top: 70, left: 16, width: 190, color: "text.secondary", fontSize: 14 }}>{empty}</Box>
        )}
        <PostTitles loom={loom} picture={picture} zoom={zoom} />
        <svg
          role="application"
          aria-label={label}
          aria-activedescendant={cursor ? `knot-${cursor}` : undefined}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the loom is worked by keyboard as a whole
          tabIndex={0}
          width={picture.width * zoom}
          height={picture.height * zoom}
          viewBox={`0 0 ${picture.width} ${picture.height}`}
          style={{ display: "block", touchAction: "none", userSelect: "none" }}
          onKeyDown={onKey}
          onPointerDown={onDown}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onPointerOver={(event) => {
            const id = placeUnder(event);
            if (id && id !== cursor && !pan.current) look(id);
          }}
          onPointerLeave={() => {
            pan.current = null;
            if (!held) look(null);
          }}
        >
          <title>{label}</title>
          <Posts loom={loom} picture={picture} folded={folded} />
          <g style={{ opacity: lit ? 0.2 : 1 }}>
            <Threads loom={loom} picture={picture} />
          </g>
          {preview && <Ghosts loom={loom} after={preview} picture={picture} />}
          <g style={{ opacity: lit ? 0.4 : 1 }}>
            <Places picture={picture} posts={loom.posts.length} />
          </g>
        </svg>
        {/* A layer of its own: what moves with the pointer leaves the picture under it as it was painted. */}
        <svg
          aria-hidden="true"
          width={picture.width * zoom}
          height={picture.height * zoom}
          viewBox={`0 0 ${picture.width} ${picture.height}`}
          style={{ position: "absolute", left: 0, top: TITLES_HEIGHT, pointerEvents: "none", willChange: "transform" }}
        >
          {lit && <Threads loom={loom} picture={picture} only={lit} />}
          {lit && <Places picture={picture} posts={loom.posts.length} only={lit} />}
          {cursorAt && box && (
            <rect
              x={box.x}
              y={cursorAt.y - picture.rowHeight / 2}
              width={box.width}
              height={picture.rowHeight}
              rx={4}
              fill="none"
              stroke={theme.vars?.palette.primary.main}
              pointerEvents="none"
            />
          )}
          {heldAt && (
            <circle
              cx={heldAt.x}
              cy={heldAt.y}
              r={8}
              fill="none"
              stroke={theme.vars?.palette.primary.main}
              strokeWidth={2}
              pointerEvents="none"
            />
          )}
          {heldAt && pointer && (
            <path
              d={threadPath(heldAt, pointer)}
              fill="none"
              stroke="currentColor"
              strokeWidth={2}
              strokeDasharray="4 4"
              pointerEvents="none"
            />
          )}
        </svg>
      </Box>
      <Box sx={{ position: "absolute", right: 8, top: 0, zIndex: 2, display: "flex", bgcolor: "background.default" }}>
        <IconButton size="small" aria-label="Smaller" onClick={() => setZoom((now) => clampZoom(now / 1.2))}>
          <RemoveIcon fontSize="small" />
        </IconButton>
        <IconButton size="small" aria-label="Larger" onClick={() => setZoom((now) => clampZoom(now * 1.2))}>
          <AddIcon fontSize="small" />
        </IconButton>
      </Box>
      {held && (
        <Box
          sx={{
            position: "absolute",
            bottom: 4,
            left: 8,
            bgcolor: "background.paper",
            border: 1,
            borderColor: "primary.main",
            borderRadius: 1,
            px: 1.5,
            py: 0.5,
            fontSize: 13,
            display: "flex",
            alignItems: "center",
            gap: 1.5,
          }}
        >
          <span>
            Holding {heldAt?.knot.label ?? held}
            {run > 1 ? `, run of ${run}` : ""}: click or Enter{" "}
            {cursor && aimAt(held, cursor, run).part ? "takes the thread off" : "lays it"}, Escape lets go
          </span>
          {onPart && comesToIt(loom, held) && (
            <Button size="small" variant="outlined" color="inherit" onClick={() => free(held)}>
              Free this place
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}

const clampZoom = (zoom: number) => Math.max(ZOOM_MIN, Math.min(ZOOM_MAX, zoom));
