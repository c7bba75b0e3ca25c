import { useTheme } from "@mui/material";
import { memo } from "react";
import type { Knot } from "../../api/client";
import { cut, FINGER, LETTER, midLabel, type Picture, type Placed } from "../../model/loom";
import { useDye } from "./dye";

interface Props {
  picture: Picture;
  posts: number;
  /** Draws only these places again, over the dimmed ones. */
  only?: ReadonlySet<string>;
  /** Fingers point here: the knot is where one takes hold, the rest of the row scrolls. */
  touch?: boolean;
  /** Words this much larger than usual, where the picture is drawn small. */
  large?: number;
}

/** All places. Pointers are heard by the loom as a whole, so that none of them changes while one moves. */
export const Places = memo(function Places({ picture, posts, only, touch = false, large = 1 }: Props) {
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
          touch={touch}
          large={large}
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
  touch: boolean;
  large: number;
}

/** Where a place answers to a pointer: the whole row of its post with its label, not only the dot. */
export function hitBox({ x, knot }: Placed, first: boolean, last: boolean) {
  if (first) return { x: x - 146, width: 164 };
  if (last) return { x: x - 18, width: 144 };
  const left = Math.max(52, 18 + midLabel(knot).length * LETTER);
  return { x: x - left, width: left + 20 };
}

const Place = memo(function Place({ placed, first, last, height, again, touch, large }: PlaceProps) {
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
  const words = first || last ? endLabel(knot) : midLabel(knot);
  const attributes = again
    ? {}
    : { id: `knot-${knot.id}`, "data-knot": knot.id, role: "button", "aria-label": knotWords(knot, words), "aria-disabled": !knot.present };
  return (
    <g {...attributes} style={{ cursor: knot.present ? "pointer" : "not-allowed" }}>
      {!again && <rect x={hit.x} y={y - height / 2} width={hit.width} height={height} fill="transparent" rx={4} />}
      {/* What passes behind the post passes behind its label too. */}
      {!first && !last && (
        <rect
          x={x - 12 - midLabel(knot).length * LETTER * large}
          y={y - 8 * large}
          width={midLabel(knot).length * LETTER * large + 3}
          height={16 * large}
          fill={theme.vars?.palette.background.default}
        />
      )}
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
        fontSize={12.5 * large}
        fill={live || first ? "currentColor" : theme.vars?.palette.text.secondary}
        stroke={theme.vars?.palette.background.default}
        strokeWidth={again && (first || last) ? 4 : 0}
        paintOrder="stroke"
      >
        {words}
      </text>
      {/* Over the knot, so that a finger comes upon it first. */}
      {!again && touch && knot.present && (
        <rect data-grip x={x - FINGER / 2} y={y - FINGER / 2} width={FINGER} height={FINGER} fill="transparent" />
      )}
    </g>
  );
});

const endLabel = (knot: Knot) =>
  typeof knot.number === "number" && !knot.label.includes(String(knot.number)) && !knot.id.includes("/in/")
    ? `${knot.number} ${cut(knot.label, 17)}`
    : cut(knot.label, 20);
/** What stands there, then in full what it is. */
function knotWords(knot: Knot, shown: string): string {
  const whole = knot.label.includes(shown) ? knot.label : shown.includes(knot.label) ? shown : `${shown}, ${knot.label}`;
  return knot.present ? whole : `${whole}, not on this model`;
}
