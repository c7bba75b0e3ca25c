import { Box, useColorScheme, useTheme } from "@mui/material";
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import type { Knot, Loom as LoomData } from "../api/client";
import {
  layOut,
  neighbour,
  type Picture,
  type Placed,
  quietPlaces,
  stitchDashes,
  threadAndMistakes,
  threadPath,
  wholeThread,
} from "../model/loom";
import { dyes } from "../theme/theme";

interface Props {
  loom: LoomData;
  /** Places to light from outside, e.g. what a finding is about. */
  shown?: string[];
  /** Places on a post shown at least, even when nothing runs there. */
  keep?: number;
  label: string;
  onFocus: (id: string | null) => void;
  /** Two places were joined; a run lays so many one to one onward. */
  onJoin?: (from: string, to: string, count: number) => void;
}

/** The picture of all threads: upright posts, knots on them, threads between them. */
export function Loom({ loom, shown, keep = 16, label, onFocus, onJoin }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [cursor, setCursor] = useState<string | null>(null);
  const [held, setHeld] = useState<string | null>(null);
  const [run, setRun] = useState(1);
  const [digits, setDigits] = useState("");
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  const folded = useMemo(() => quietPlaces(loom, keep), [loom, keep]);
  const longest = Math.max(1, ...loom.posts.map((post) => post.knots.filter((knot) => !folded.has(knot.id)).length));
  const picture = useMemo(() => layOut(loom, width, longest > 24 ? 19 : longest > 18 ? 22 : 27, folded), [loom, width, longest, folded]);
  const lit = useMemo(() => (cursor ? threadAndMistakes(loom, cursor) : shown?.length ? new Set(shown) : null), [loom, cursor, shown]);

  useEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watcher = new ResizeObserver(() => setWidth(Math.max(440, box.clientWidth)));
    watcher.observe(box);
    return () => watcher.disconnect();
  }, []);

  function look(id: string | null) {
    setCursor(id);
    onFocus(id);
  }

  function drop(to: string) {
    if (held && held !== to && onJoin) onJoin(held, to, run);
    letGo();
  }

  function letGo() {
    setHeld(null);
    setRun(1);
    setPointer(null);
  }

  function jump(digit: string) {
    const here = cursor ? picture.placed.get(cursor) : undefined;
    const text = digits + digit;
    const post = loom.posts[here?.post ?? 0];
    const found = post?.knots.find((knot) => String(knot.number) === text && picture.placed.has(knot.id));
    setDigits(found ? text : digit);
    const target = found ?? post?.knots.find((knot) => String(knot.number) === digit);
    if (target && picture.placed.has(target.id)) look(target.id);
  }

  function onKey(event: KeyboardEvent) {
    const at = cursor ?? loom.posts[0]?.knots[0]?.id ?? null;
    if (at === null) return;
    if (event.key.startsWith("Arrow")) {
      event.preventDefault();
      setDigits("");
      if (event.shiftKey && held && event.key === "ArrowDown") setRun((count) => count + 1);
      else if (event.shiftKey && held && event.key === "ArrowUp") setRun((count) => Math.max(1, count - 1));
      else look(cursor ? neighbour(loom, picture, at, event.key) : at);
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      if (held) drop(at);
      else if (onJoin) setHeld(at);
    } else if (event.key === "Escape") {
      letGo();
    } else if (event.key === "r" && held && !event.ctrlKey) {
      setRun(8);
    } else if (/^\d$/.test(event.key)) {
      jump(event.key);
    }
  }

  function placeOf(event: PointerEvent): { x: number; y: number } {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  }

  const heldAt = held ? picture.placed.get(held) : undefined;
  return (
    <Box ref={frame} sx={{ position: "relative", overflow: "auto", height: "100%" }}>
      <svg
        role="application"
        aria-label={label}
        aria-activedescendant={cursor ? `knot-${cursor}` : undefined}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the loom is worked by keyboard as a whole
        tabIndex={0}
        width={picture.width}
        height={picture.height}
        style={{ display: "block", touchAction: "none", userSelect: "none" }}
        onKeyDown={onKey}
        onPointerMove={(event) => held && setPointer(placeOf(event))}
        onPointerLeave={() => !held && look(null)}
      >
        <title>{label}</title>
        <Posts loom={loom} picture={picture} folded={folded} />
        <Threads loom={loom} picture={picture} lit={lit} />
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
        {[...picture.placed.values()].map((placed) => (
          <Place
            key={placed.knot.id}
            placed={placed}
            first={placed.post === 0}
            last={placed.post === loom.posts.length - 1}
            dim={lit !== null && !lit.has(placed.knot.id)}
            chosen={placed.knot.id === cursor}
            held={placed.knot.id === held}
            height={picture.rowHeight}
            onLook={() => look(placed.knot.id)}
            onTake={() => placed.knot.present && onJoin && (held ? drop(placed.knot.id) : setHeld(placed.knot.id))}
            onGive={() => held && held !== placed.knot.id && placed.knot.present && drop(placed.knot.id)}
          />
        ))}
      </svg>
      {held && (
        <Box
          sx={{
            position: "sticky",
            bottom: 4,
            left: 8,
            width: "fit-content",
            bgcolor: "background.paper",
            border: 1,
            borderColor: "primary.main",
            borderRadius: 1,
            px: 1.5,
            py: 0.5,
            fontSize: 13,
          }}
        >
          Holding {heldAt?.knot.label ?? held}
          {run > 1 ? `, run of ${run}` : ""}: click or Enter lays it, Escape lets go
        </Box>
      )}
    </Box>
  );
}

/** A dye in the theme of now; grey where nothing runs. */
function useDye() {
  const theme = useTheme();
  const { mode, systemMode } = useColorScheme();
  const shade = (mode === "system" ? systemMode : mode) === "light" ? "linen" : "night";
  return (name: string | null | undefined) => dyes[name ?? ""]?.[shade] ?? theme.vars?.palette.text.secondary ?? "gray";
}

function Posts({ loom, picture, folded }: { loom: LoomData; picture: Picture; folded: Set<string> }) {
  const theme = useTheme();
  const line = theme.vars?.palette.divider;
  return (
    <g>
      {loom.posts.map((post, i) => {
        const x = picture.postX[i] ?? 0;
        const hidden = post.knots.filter((knot) => folded.has(knot.id)).length;
        return (
          <g key={post.key}>
            <text
              x={x}
              y={20}
              textAnchor={i === 0 ? "end" : i === loom.posts.length - 1 ? "start" : "middle"}
              fontSize={13}
              fontWeight={700}
              fill="currentColor"
            >
              {post.title}
            </text>
            <line x1={x} x2={x} y1={38} y2={picture.height - 12} stroke={line} strokeWidth={3} />
            {hidden > 0 && (
              <text x={x} y={picture.height - 1} textAnchor="middle" fontSize={12} fill={theme.vars?.palette.text.secondary}>
                {hidden} more, unused
              </text>
            )}
            {/* The last post's labels stand where its brackets would. */}
            {(i < loom.posts.length - 1 ? post.brackets : []).map((bracket) => (
              <Bracket
                key={bracket.first}
                from={picture.placed.get(bracket.first)}
                to={picture.placed.get(bracket.last)}
                opened={bracket.opened}
                label={bracket.label}
                height={picture.rowHeight}
              />
            ))}
          </g>
        );
      })}
    </g>
  );
}

/** A block of slots that move together, with what it takes. */
function Bracket({ from, to, opened, label, height }: { from?: Placed; to?: Placed; opened: boolean; label: string; height: number }) {
  const theme = useTheme();
  if (!from || !to || opened) return null;
  const x = from.x + 14;
  const top = from.y - height / 2 + 4;
  const bottom = to.y + height / 2 - 4;
  return (
    <g>
      <path d={`M${x - 5},${top} H${x} V${bottom} H${x - 5}`} fill="none" stroke={theme.vars?.palette.text.secondary} strokeWidth={1.5} />
      <text
        x={x + 5}
        y={(top + bottom) / 2}
        transform={`rotate(90 ${x + 5} ${(top + bottom) / 2})`}
        textAnchor="middle"
        dominantBaseline="auto"
        fontSize={12}
        fill={theme.vars?.palette.text.secondary}
        stroke={theme.vars?.palette.background.default}
        strokeWidth={4}
        paintOrder="stroke"
      >
        {label}
      </text>
    </g>
  );
}

function Threads({ loom, picture, lit }: { loom: LoomData; picture: Picture; lit: Set<string> | null }) {
  const dye = useDye();
  const theme = useTheme();
  // What a track listens to by mistake is drawn as such, however silent it is.
  const astray = useMemo(() => new Set(loom.frays.flatMap((fray) => [...wholeThread(loom, fray.to)])), [loom]);
  return (
    <g fill="none" pointerEvents="none">
      {loom.strands.map((strand) => {
        const from = picture.placed.get(strand.from);
        const to = picture.placed.get(strand.to);
        if (!from || !to) return null;
        const on = lit?.has(strand.from) === true && lit.has(strand.to);
        const wrong = !strand.live && astray.has(strand.to);
        const colour = wrong ? theme.vars?.palette.error.main : dye(strand.colour);
        const opacity = lit === null ? (strand.live || wrong ? 0.85 : 0.35) : on ? 1 : 0.12;
        const width = (strand.live ? 2.2 : wrong ? 1.6 : 1) + (on ? 1 : 0);
        const dashes = strand.live ? (stitchDashes[strand.stitch ?? "solid"] ?? "") : wrong ? "3 5" : "1 6";
        return (strand.pair && strand.live ? [-2, 2] : [0]).map((lift) => (
          <path
            key={`${strand.from}>${strand.to}>${lift}`}
            data-strand={`${strand.from}>${strand.to}`}
            d={threadPath(from, to, lift)}
            stroke={colour}
            strokeWidth={strand.pair ? width * 0.65 : width}
            strokeDasharray={dashes}
            opacity={opacity}
          />
        ));
      })}
      {loom.frays.map((fray) => {
        const from = picture.placed.get(fray.from);
        const to = picture.placed.get(fray.to);
        if (!from || !to) return null;
        const x = from.x + (to.x - from.x) * 0.2;
        const colour = dye(fray.colour);
        const opacity = lit === null || lit.has(fray.from) ? 1 : 0.15;
        return (
          <g key={fray.to} data-fray={fray.to} opacity={opacity}>
            <path d={`M${from.x},${from.y} H${x} m0,0 l9,-6 M${x},${from.y} l11,0 M${x},${from.y} l9,6`} stroke={colour} strokeWidth={2} />
            <circle cx={to.x} cy={to.y} r={7} stroke={theme.vars?.palette.error.main} strokeWidth={2} />
          </g>
        );
      })}
    </g>
  );
}

interface PlaceProps {
  placed: Placed;
  first: boolean;
  last: boolean;
  dim: boolean;
  chosen: boolean;
  held: boolean;
  height: number;
  onLook: () => void;
  onTake: () => void;
  onGive: () => void;
}

/** A knot with its label; the whole row of its post answers, not only the dot. */
function Place({ placed, first, last, dim, chosen, held, height, onLook, onTake, onGive }: PlaceProps) {
  const dye = useDye();
  const theme = useTheme();
  const { knot, x, y } = placed;
  const live = knot.row !== null;
  const side = first ? -1 : 1;
  const hit = first ? { x: x - 146, width: 164 } : last ? { x: x - 18, width: 144 } : { x: x - 52, width: 72 };
  const text = first
    ? { x: x - 12, anchor: "end" as const }
    : last
      ? { x: x + 14, anchor: "start" as const }
      : { x: x - 10, anchor: "end" as const };
  return (
    <g
      id={`knot-${knot.id}`}
      data-knot={knot.id}
      role="button"
      aria-label={knotWords(knot)}
      aria-disabled={!knot.present}
      opacity={dim ? 0.35 : 1}
      onPointerEnter={onLook}
      onPointerDown={onTake}
      onPointerUp={onGive}
      style={{ cursor: knot.present ? "pointer" : "not-allowed" }}
    >
      <rect
        x={hit.x}
        y={y - height / 2}
        width={hit.width}
        height={height}
        fill="transparent"
        stroke={chosen ? theme.vars?.palette.primary.main : "none"}
        rx={4}
      />
      {knot.present ? (
        <circle
          cx={x}
          cy={y}
          r={held ? 7 : live ? 5 : 3.5}
          fill={live ? dye(knot.colour) : theme.vars?.palette.background.default}
          stroke={live ? "none" : theme.vars?.palette.text.secondary}
          strokeWidth={1.3}
        />
      ) : (
        <path d={`M${x - 5},${y + 4} l8,-8 M${x - 1},${y + 5} l7,-7`} stroke={theme.vars?.palette.text.secondary} />
      )}
      <text
        x={text.x}
        y={y}
        textAnchor={text.anchor}
        dominantBaseline="central"
        fontSize={12.5}
        fontWeight={chosen ? 700 : 400}
        fill={live || first ? "currentColor" : theme.vars?.palette.text.secondary}
        stroke={theme.vars?.palette.background.default}
        strokeWidth={side === 1 && !last ? 4 : 0}
        paintOrder="stroke"
      >
        {first || last ? endLabel(knot) : midLabel(knot)}
      </text>
    </g>
  );
}

const cut = (text: string, length: number) => (text.length > length ? `${text.slice(0, length - 1)}…` : text);
const endLabel = (knot: Knot) =>
  typeof knot.number === "number" && !knot.label.includes(String(knot.number)) && !knot.id.includes("/in/")
    ? `${knot.number} ${cut(knot.label, 17)}`
    : cut(knot.label, 20);
/** In the middle a number is enough; boxes, mixes and what has a name say it. */
function midLabel(knot: Knot): string {
  if (knot.label.includes("(")) return cut(knot.label.split(" (")[0] ?? "", 13);
  const box = /^(.+) socket \d+$/.exec(knot.label);
  if (box && box[1] !== "local") return `${(box[1] ?? "").replace("Box ", "")} ${knot.number}`;
  return box ? `local ${knot.number}` : String(knot.number);
}
const knotWords = (knot: Knot) => `${knot.label}${knot.present ? "" : ", not on this model"}`;
