import { useTheme } from "@mui/material";
import { memo } from "react";
import type { Loom } from "../../api/client";
import { foldOf, gapsOn, type Picture, type Placed } from "../../model/loom";

interface Props {
  loom: Loom;
  picture: Picture;
  folded: ReadonlySet<string>;
  /** The post whose fold the keyboard is at. */
  cursor: string | null;
  /** Brackets can be picked up. */
  canMove: boolean;
}

export const TITLES_HEIGHT = 30;
/** How far right of its post a bracket stands. */
const BRACKET_X = 14;

/** The titles of the posts; they stay in sight however far down one looks. */
export const PostTitles = memo(function PostTitles({ loom, picture, zoom }: { loom: Loom; picture: Picture; zoom: number }) {
  const theme = useTheme();
  return (
    <svg
      aria-hidden="true"
      width={picture.width * zoom}
      height={TITLES_HEIGHT}
      style={{ display: "block", position: "sticky", top: 0, zIndex: 1, background: theme.vars?.palette.background.default }}
    >
      {loom.posts.map((post, i) => (
        <text
          key={post.key}
          x={(picture.postX[i] ?? 0) * zoom}
          y={19}
          textAnchor={i === 0 ? "end" : "middle"}
          fontSize={13}
          fontWeight={700}
          fill="currentColor"
        >
          {post.title}
        </text>
      ))}
    </svg>
  );
});

/** The upright posts with their brackets and what is folded away. */
export const Posts = memo(function Posts({ loom, picture, folded, cursor, canMove }: Props) {
  const theme = useTheme();
  const line = theme.vars?.palette.divider;
  return (
    <g>
      {loom.posts.map((post, i) => {
        const x = picture.postX[i] ?? 0;
        const hidden = post.knots.filter((knot) => folded.has(knot.id)).length;
        return (
          <g key={post.key}>
            <line x1={x} x2={x} y1={8} y2={picture.height - 12} stroke={line} strokeWidth={3} />
            {gapsOn(post.knots, folded).map((id) => (
              <Gap key={id} below={picture.placed.get(id)} height={picture.rowHeight} />
            ))}
            {hidden > 0 && (
              <text
                x={x}
                y={picture.height - 1}
                textAnchor="middle"
                fontSize={12}
                fontWeight={cursor === post.key ? 700 : 400}
                fill={cursor === post.key ? theme.vars?.palette.primary.main : theme.vars?.palette.text.secondary}
                id={foldOf(post.key)}
                role="button"
                tabIndex={-1}
                aria-label={`${hidden} more, unused, on ${post.title}: unfold them`}
                data-unfold={post.key}
                style={{ cursor: "pointer", textDecoration: "underline" }}
              >
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
                canMove={canMove}
              />
            ))}
          </g>
        );
      })}
    </g>
  );
});

/** Two strokes across a post where unused places are left out. */
function Gap({ below, height }: { below?: Placed; height: number }) {
  const theme = useTheme();
  if (!below) return null;
  const y = below.y - height / 2;
  return (
    <path
      d={`M${below.x - 6},${y + 1} l12,-5 M${below.x - 6},${y + 5} l12,-5`}
      stroke={theme.vars?.palette.text.secondary}
      strokeWidth={1.5}
    />
  );
}

/** A block of slots that move together, with what it takes. */
function Bracket({
  from,
  to,
  opened,
  label,
  height,
  canMove,
}: {
  from?: Placed;
  to?: Placed;
  opened: boolean;
  label: string;
  height: number;
  canMove: boolean;
}) {
  const theme = useTheme();
  if (!from || !to || opened) return null;
  const x = from.x + BRACKET_X;
  const top = from.y - height / 2 + 4;
  const bottom = to.y + height / 2 - 4;
  return (
    <g
      data-bracket={canMove ? from.knot.id : undefined}
      role={canMove ? "button" : undefined}
      tabIndex={canMove ? -1 : undefined}
      aria-label={canMove ? `Block from ${from.knot.label}: ${label}` : undefined}
      style={{ cursor: canMove ? "grab" : undefined }}
    >
      <rect x={x - 6} y={top} width={26} height={bottom - top} fill="transparent" />
      <path d={`M${x - 5},${top} H${x} V${bottom} H${x - 5}`} fill="none" stroke={theme.vars?.palette.text.secondary} strokeWidth={1.5} />
    </g>
  );
}

/** What blocks take, over the threads, so that it can be read; the bracket itself stays behind them. */
export const BracketLabels = memo(function BracketLabels({ loom, picture }: { loom: Loom; picture: Picture }) {
  const theme = useTheme();
  return (
    <g pointerEvents="none">
      {loom.posts.slice(0, -1).flatMap((post) =>
        post.brackets.map((bracket) => {
          const from = picture.placed.get(bracket.first);
          const to = picture.placed.get(bracket.last);
          if (!from || !to || bracket.opened) return null;
          const x = from.x + BRACKET_X + 5;
          const y = (from.y + to.y) / 2;
          return (
            <text
              key={bracket.first}
              x={x}
              y={y}
              transform={`rotate(90 ${x} ${y})`}
              textAnchor="middle"
              dominantBaseline="auto"
              fontSize={12}
              fill={theme.vars?.palette.text.secondary}
              stroke={theme.vars?.palette.background.default}
              strokeWidth={4}
              paintOrder="stroke"
            >
              {bracket.label}
            </text>
          );
        }),
      )}
    </g>
  );
});
