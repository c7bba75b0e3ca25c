import AddIcon from "@mui/icons-material/Add";
import RemoveIcon from "@mui/icons-material/Remove";
import ZoomOutMap from "@mui/icons-material/ZoomOutMap";
import { Box, Button, IconButton, useTheme } from "@mui/material";
import { type MouseEvent, type PointerEvent, useMemo, useRef, useState } from "react";
import type { Loom as LoomData, Strand } from "../../api/client";
import { comesToIt, layOut, postOfFold, quietPlaces, rowHeightFor, threadAndMistakes, threadPath } from "../../model/loom";
import { useTouch } from "../useWidth";
import { type Aim, HoldChip } from "./HoldChip";
import { NameOnLoom } from "./NameOnLoom";
import { hitBox, Places } from "./Places";
import { BracketLabels, Posts, PostTitles, TITLES_HEIGHT } from "./Posts";
import { Ghosts, Threads } from "./Threads";
import { useHold } from "./useHold";
import { useInSight, useLoomFrame } from "./useLoomFrame";
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
  onJoin?: (aim: Aim) => void;
  /** What is laid between two places comes off, or whatever comes to one. */
  onPart?: (from: string, to: string | null) => void;
  /** What was held is there no more. */
  onLost?: (label: string) => void;
  /** A place gets another name; an empty one gives it its own again. */
  onRename?: (id: string, name: string) => void;
  /** Keys take nothing off, since a stray one could. */
  keysHeld?: boolean;
}

/**
 * The picture of all threads: upright posts, knots on them, threads between them. What is lit is drawn
 * once more over the dimmed picture, so that a moving pointer repaints one thread and not all.
 */
export function Loom({ loom, shown, keep = 16, label, preview, empty, onFocus, onAim, onJoin, onPart, onLost, onRename, keysHeld }: Props) {
  const { frame, width, zoom, zoomBy, zoomToHeight, panFrom, panTo, panEnds, isPanned } = useLoomFrame();
  const touch = useTouch();
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [cursor, setCursor] = useState<string | null>(null);
  const [renamed, setRenamed] = useState<string | null>(null);
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  /** Where the pointer was last: what scrolls under one that rests is not pointed at. */
  /** Whether the press under way was answered when it began; a finger's tap beside a knot is when it ends. */
  const answered = useRef(false);
  const rested = useRef<{ x: number; y: number } | null>(null);
  const theme = useTheme();
  const folded = useMemo(() => quietPlaces(loom, keep, unfolded, preview), [loom, keep, unfolded, preview]);
  const picture = useMemo(
    () => layOut(loom, width / Math.min(1, zoom), rowHeightFor(loom, folded, touch), folded),
    [loom, width, zoom, folded, touch],
  );
  const lit = useMemo(() => (cursor ? threadAndMistakes(loom, cursor) : shown?.length ? new Set(shown) : null), [loom, cursor, shown]);
  const { hold, aimAt, take, letGo, drop, free, changeRun, aim, pressed } = useHold({ loom, cursor, onAim, onJoin, onPart, onLost });
  const { follow } = useInSight(frame, picture, zoom, cursor);

  function look(id: string | null) {
    setCursor(id);
    const place = id && postOfFold(id) === null ? id : null;
    onFocus(place);
    aim(place);
  }

  const unfold = (post: string) => setUnfolded((before) => new Set([...before, post]));
  const allUnfolded = loom.posts.every(({ key }) => unfolded.has(key));
  const unfoldAll = () => setUnfolded(allUnfolded ? new Set() : new Set(loom.posts.map(({ key }) => key)));

  const zoomToAll = () => zoomToHeight(picture.height);

  const onKey = useLoomKeys({
    loom,
    picture,
    cursor,
    hold,
    canJoin: onJoin !== undefined,
    look: (id) => {
      follow();
      look(id);
    },
    take: (id, block) => {
      setPointer(null);
      take(id, block);
    },
    drop,
    letGo,
    free: onPart && !keysHeld ? free : undefined,
    rename: onRename && !keysHeld ? setRenamed : undefined,
    changeRun,
    unfold,
    unfoldAll,
    zoomBy,
    zoomToAll,
  });

  /** The place under a pointer. */
  const placeUnder = (event: { target: EventTarget }): string | null => attributeUnder(event, "data-knot");
  const present = (id: string) => picture.placed.get(id)?.knot.present === true;

  function onDown(event: PointerEvent) {
    // A finger takes hold at a knot or a bracket; anywhere else it scrolls, or taps.
    const finger = event.pointerType !== "mouse";
    answered.current = !finger || attributeUnder(event, "data-grip") !== null || attributeUnder(event, "data-bracket") !== null;
    if (!answered.current) return;
    // A finger's events go on to where it is, not to where it began.
    if (finger && event.target instanceof Element) event.target.releasePointerCapture(event.pointerId);
    pressAt(event);
  }

  function pressAt(event: PointerEvent | MouseEvent) {
    const fold = attributeUnder(event, "data-unfold");
    if (fold) return unfold(fold);
    const bracket = attributeUnder(event, "data-bracket");
    const id = placeUnder(event) ?? bracket;
    if (!id) {
      if (answered.current) panFrom(event);
    } else if (present(id) && onJoin) {
      if (hold) return drop(id);
      setPointer(null);
      if (answered.current) pressed(event);
      take(id, id === bracket);
    }
  }

  function onMove(event: PointerEvent) {
    rested.current = { x: event.clientX, y: event.clientY };
    if (panTo(event) || !hold) return;
    const at = event.currentTarget.getBoundingClientRect();
    setPointer({ x: (event.clientX - at.left) / zoom, y: (event.clientY - at.top) / zoom });
  }

  function onUp(event: PointerEvent) {
    panEnds();
    const id = placeUnder(event) ?? attributeUnder(event, "data-bracket");
    if (id && hold && hold.id !== id && present(id)) drop(id);
  }

  const heldAt = hold ? picture.placed.get(hold.id) : undefined;
  const renamedAt = renamed ? picture.placed.get(renamed) : undefined;
  const cursorAt = cursor ? picture.placed.get(cursor) : undefined;
  const box = cursorAt && hitBox(cursorAt, cursorAt.post === 0, cursorAt.post === loom.posts.length - 1);
  return (
    <Box sx={{ position: "relative", height: "100%", display: "flex", flexDirection: "column" }}>
      {/* In a line of its own where fingers need room for it; else at the ends of the titles' line. */}
      <Box
        sx={{
          display: "flex",
          flexShrink: 0,
          ...(touch
            ? {}
            : { position: "absolute", left: 0, right: 8, top: 0, zIndex: 2, pointerEvents: "none", "& > *": { pointerEvents: "auto" } }),
        }}
      >
        {(folded.size > 0 || allUnfolded) && (
          <Button size="small" color="inherit" onClick={unfoldAll}>
            {allUnfolded ? "Fold unused" : "Unfold all"}
          </Button>
        )}
        <Box
          sx={{
            ml: "auto",
            display: "flex",
            bgcolor: "background.default",
            ...(!touch && { "& button": { minWidth: 32, minHeight: 32, p: 0.5 } }),
          }}
        >
          <IconButton size="small" aria-label="All of it" title="All of it, or as before (W)" onClick={zoomToAll}>
            <ZoomOutMap fontSize="small" />
          </IconButton>
          <IconButton size="small" aria-label="Smaller" onClick={() => zoomBy(1 / 1.2)}>
            <RemoveIcon fontSize="small" />
          </IconButton>
          <IconButton size="small" aria-label="Larger" onClick={() => zoomBy(1.2)}>
            <AddIcon fontSize="small" />
          </IconButton>
        </Box>
      </Box>
      <Box ref={frame} sx={{ overflow: "auto", flex: 1, minHeight: 0, position: "relative" }}>
        {empty && loom.posts[0]?.knots.length === 0 && (
          <Box sx={{ position: "absolute", top: 70, left: 16, width: 190, color: "text.secondary", fontSize: 14 }}>{empty}</Box>
        )}
        <PostTitles loom={loom} picture={picture} zoom={zoom} />
        <svg
          role="application"
          aria-label={label}
          aria-activedescendant={cursor ? (postOfFold(cursor) === null ? `knot-${cursor}` : cursor) : undefined}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the loom is worked by keyboard as a whole
          tabIndex={0}
          width={picture.width * zoom}
          height={picture.height * zoom}
          viewBox={`0 0 ${picture.width} ${picture.height}`}
          style={{ display: "block", touchAction: touch ? "pan-x pan-y" : "none", userSelect: "none" }}
          onKeyDown={onKey}
          onPointerDown={onDown}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onClick={(event) => !answered.current && pressAt(event)}
          onPointerCancel={() => !hold && look(null)}
          onPointerOver={(event) => {
            const still = rested.current?.x === event.clientX && rested.current.y === event.clientY;
            rested.current = { x: event.clientX, y: event.clientY };
            if (still) return;
            const id = placeUnder(event) ?? (hold ? attributeUnder(event, "data-bracket") : null);
            if (id && id !== cursor && !isPanned()) look(id);
          }}
          onDoubleClick={(event) => {
            const id = placeUnder(event);
            if (id && onRename && !keysHeld) setRenamed(id);
          }}
          onPointerLeave={(event) => {
            panEnds();
            // A finger that was lifted has not gone elsewhere.
            if (event.pointerType !== "mouse") return;
            rested.current = null;
            if (!hold) look(null);
          }}
        >
          <title>{label}</title>
          <Posts loom={loom} picture={picture} folded={folded} cursor={cursor && postOfFold(cursor)} canMove={onJoin !== undefined} />
          <g style={{ opacity: lit ? 0.2 : 1 }}>
            <Threads loom={loom} picture={picture} />
          </g>
          {preview && <Ghosts loom={loom} after={preview} picture={picture} />}
          <g style={{ opacity: lit ? 0.4 : 1 }}>
            <Places picture={picture} posts={loom.posts.length} touch={touch && onJoin !== undefined} />
            <BracketLabels loom={loom} picture={picture} />
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
          {lit && <Places picture={picture} posts={loom.posts.length} only={lit} large={1 / Math.min(1, zoom)} />}
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
      {renamedAt && frame.current && (
        <NameOnLoom
          key={renamedAt.knot.id}
          knot={renamedAt.knot}
          x={renamedAt.x * zoom - frame.current.scrollLeft}
          y={renamedAt.y * zoom + TITLES_HEIGHT - frame.current.scrollTop}
          first={renamedAt.post === 0}
          onDone={(name) => {
            if (name !== null) onRename?.(renamedAt.knot.id, name);
            setRenamed(null);
          }}
        />
      )}
      {hold && (
        <HoldChip
          hold={hold}
          takesOff={cursor !== null && cursor !== hold.id && aimAt(hold, cursor).part}
          onRun={changeRun}
          onLetGo={letGo}
          onFree={onPart && !hold.block && comesToIt(loom, hold.id) ? () => free(hold.id) : undefined}
        />
      )}
    </Box>
  );
}

const attributeUnder = ({ target }: { target: EventTarget }, name: string): string | null =>
  (target as Element).closest(`[${name}]`)?.getAttribute(name) ?? null;
