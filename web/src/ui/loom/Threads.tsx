import { useTheme } from "@mui/material";
import { memo, useMemo } from "react";
import type { Loom, Strand } from "../../api/client";
import { isDense, noteEnds, type Picture, type Placed, stitchDashes, threadEnd, threadPath, wholeThread } from "../../model/loom";
import { useDye } from "./dye";

interface Props {
  loom: Loom;
  picture: Picture;
  /** Draws only threads that run between these places, brighter. */
  only?: ReadonlySet<string>;
}

/** All threads; drawn once a loom, and once more over it for those that are lit. */
export const Threads = memo(function Threads({ loom, picture, only }: Props) {
  // What a track listens to by mistake is drawn as such, however silent it is.
  const astray = useMemo(() => new Set(loom.frays.flatMap((fray) => [...wholeThread(loom, fray.to)])), [loom]);
  const dense = useMemo(() => isDense(loom), [loom]);
  const strands = only ? loom.strands.filter((strand) => only.has(strand.from) && only.has(strand.to)) : loom.strands;
  const frays = only ? loom.frays.filter((fray) => only.has(fray.from)) : loom.frays;
  return (
    <g fill="none" pointerEvents="none">
      {strands.map((strand) => (
        <Thread
          key={`${strand.from}>${strand.to}`}
          strand={strand}
          picture={picture}
          posts={loom.posts.length}
          astray={astray.has(strand.to)}
          bright={only !== undefined}
          dense={dense}
        />
      ))}
      {noteEnds(strands, only !== undefined, dense).map(({ strand, at }) => (
        <Note key={`${strand.from}>${strand.to}`} text={strand.note ?? ""} at={picture.placed.get(at)} />
      ))}
      {frays.map((fray) => (
        <Fray key={fray.to} from={fray.from} to={fray.to} colour={fray.colour} picture={picture} />
      ))}
    </g>
  );
});

interface ThreadProps {
  strand: Strand;
  picture: Picture;
  posts: number;
  astray: boolean;
  bright: boolean;
  dense: boolean;
}

function Thread({ strand, picture, posts, astray, bright, dense }: ThreadProps) {
  const dye = useDye();
  const theme = useTheme();
  const from = picture.placed.get(strand.from);
  const to = picture.placed.get(strand.to);
  if (!from || !to) return null;
  const wrong = !strand.live && astray;
  const width = (strand.live ? (dense && !bright ? 1.3 : 2.2) : wrong ? 1.6 : 1) + (bright && !dense ? 1 : 0);
  const dashes = strand.live ? (stitchDashes[strand.stitch ?? "solid"] ?? "") : wrong ? "3 5" : "1 6";
  return (strand.pair && strand.live ? [-2, 2] : [0]).map((lift) => (
    <path
      key={lift}
      data-strand={bright ? undefined : `${strand.from}>${strand.to}`}
      d={threadPath(from, threadEnd(to, from, posts), lift)}
      stroke={wrong ? theme.vars?.palette.error.main : dye(strand.colour)}
      strokeWidth={strand.pair ? width * 0.65 : width}
      strokeDasharray={dashes}
      opacity={bright ? 1 : strand.live || wrong ? (dense ? 0.45 : 0.85) : 0.35}
    />
  ));
}

/** What a thread says of itself, beside the place at its end. */
function Note({ text, at }: { text: string; at?: Placed }) {
  const theme = useTheme();
  if (!at) return null;
  return (
    <text
      x={at.x + 14}
      y={at.y}
      dominantBaseline="central"
      fontSize={12}
      fill={theme.vars?.palette.text.secondary}
      stroke={theme.vars?.palette.background.default}
      strokeWidth={4}
      paintOrder="stroke"
      data-note={at.knot.id}
    >
      {text}
    </text>
  );
}

/** A thread that should go on and does not, and the track that waits for it. */
function Fray({ from, to, colour, picture }: { from: string; to: string; colour?: string | null; picture: Picture }) {
  const dye = useDye();
  const theme = useTheme();
  const start = picture.placed.get(from);
  const end = picture.placed.get(to);
  if (!start || !end) return null;
  const x = start.x + (end.x - start.x) * 0.2;
  return (
    <g data-fray={to}>
      <path
        d={`M${start.x},${start.y} H${x} m0,0 l9,-6 M${x},${start.y} l11,0 M${x},${start.y} l9,6`}
        stroke={dye(colour)}
        strokeWidth={2}
      />
      <circle cx={end.x} cy={end.y} r={7} stroke={theme.vars?.palette.error.main} strokeWidth={2} />
    </g>
  );
}

const key = (strand: Strand) => `${strand.from}>${strand.to}`;

/** What an edit that is only looked at yet would lay, and what it would take away. */
export function Ghosts({ loom, after, picture }: { loom: Loom; after: Strand[]; picture: Picture }) {
  const theme = useTheme();
  const { laid, gone } = useMemo(() => {
    const now = new Set(loom.strands.map(key));
    const then = new Set(after.map(key));
    return { laid: after.filter((strand) => !now.has(key(strand))), gone: loom.strands.filter((strand) => !then.has(key(strand))) };
  }, [loom, after]);
  const path = (strand: Strand, stroke: string | undefined, dashes: string) => {
    const from = picture.placed.get(strand.from);
    const to = picture.placed.get(strand.to);
    return from && to ? (
      <path
        key={key(strand)}
        data-ghost={key(strand)}
        d={threadPath(from, threadEnd(to, from, loom.posts.length))}
        stroke={stroke}
        strokeWidth={2.6}
        strokeDasharray={dashes}
      />
    ) : null;
  };
  return (
    <g fill="none" pointerEvents="none">
      {gone.map((strand) => path(strand, theme.vars?.palette.error.main, "2 6"))}
      {laid.map((strand) => path(strand, theme.vars?.palette.primary.main, "7 4"))}
    </g>
  );
}
