import { useTheme } from "@mui/material";
import { memo } from "react";
import type { Knot } from "../../api/client";
import type { Picture, Placed } from "../../model/loom";
import { useDye } from "./dye";

interface Props {
  picture: Picture;
  posts: number;
  /** Draws only these places again, over the dimmed ones. */
  only?: ReadonlySet<string>;
}

/** All places. Pointers are heard by the loom as a whole, so that none of them changes while one moves. */
export const Places = memo(function Places({ picture, posts, only }: Props) {
  const shown = [...picture.placed.values()].filter((placed) => !only || only.has(placed.knot.id));
  return (
    <g pointerEvents={only ? "none" : undefined}>
      {shown.map((placed) => (
        <Place
          key={placed.knot.id}
          placed={placed}
          first={placed.post === 0}
          last={placed.post === posts - 1}
          height={picture.rowHeight}
          again={only !== undefined}
        />
      ))}
    </g>
  );
});

interface PlaceProps {
  placed: Placed;
  first: boolean;
  last: boolean;
  height: number;
  again: boolean;
}

/** Where a place answers to a pointer: the whole row of its post with its label, not only the dot. */
export function hitBox({ x, knot }: Placed, first: boolean, last: boolean) {
  if (first) return { x: x - 146, width: 164 };
  if (last) return { x: x - 18, width: 144 };
  const left = Math.max(52, 18 + midLabel(knot).length * LETTER);
  return { x: x - left, width: left + 20 };
}

/** A letter of a label is about so wide, in pixels. */
const LETTER = 6.6;

const Place = memo(function Place({ placed, first, last, height, again }: PlaceProps) {
  const dye = useDye();
  const theme = useTheme();
  const { knot, x, y } = placed;
  const live = knot.row !== null;
  const hit = hitBox(placed, first, last);
  const text = first
    ? { x: x - 12, anchor: "end" as const }
    : last
      ? { x: x + 14, anchor: "start" as const }
      : { x: x - 10, anchor: "end" as const };
  const attributes = again
    ? {}
    : { id: `knot-${knot.id}`, "data-knot": knot.id, role: "button", "aria-label": knotWords(knot), "aria-disabled": !knot.present };
  return (
    <g {...attributes} style={{ cursor: knot.present ? "pointer" : "not-allowed" }}>
      {!again && <rect x={hit.x} y={y - height / 2} width={hit.width} height={height} fill="transparent" rx={4} />}
      {knot.present ? (
        <circle
          cx={x}
          cy={y}
          r={live ? 5 : 3.5}
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
        fill={live || first ? "currentColor" : theme.vars?.palette.text.secondary}
        stroke={theme.vars?.palette.background.default}
        strokeWidth={!first && !last ? 4 : 0}
        paintOrder="stroke"
      >
        {first || last ? endLabel(knot) : midLabel(knot)}
      </text>
    </g>
  );
});

const cut = (text: string, length: number) => (text.length > length ? `${text.slice(0, length - 1)}…` : text);
const endLabel = (knot: Knot) =>
  typeof knot.number === "number" && !knot.label.includes(String(knot.number)) && !knot.id.includes("/in/")
    ? `${knot.number} ${cut(knot.label, 17)}`
    : cut(knot.label, 20);
/** In the middle a number is enough; boxes, mixes and what has a name say it. */
function midLabel(knot: Knot): string {
  if (knot.aside) return cut(knot.name ?? knot.label, 13);
  if (knot.label.includes("(")) return cut(knot.label.split(" (")[0] ?? "", 13);
  const box = /^(.+) (?:socket|out) \d+$/.exec(knot.label);
  if (box && box[1] !== "local") return `${(box[1] ?? "").replace("Box ", "")} ${knot.number}`;
  return box ? `local ${knot.number}` : String(knot.number);
}
const knotWords = (knot: Knot) => `${knot.label}${knot.present ? "" : ", not on this model"}`;
