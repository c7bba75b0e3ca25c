import { Box, Typography, useTheme } from "@mui/material";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Proof } from "../../api/client";
import { type HeardThread, heardPicture, laneWords } from "../../model/proof";
import { useDye } from "../../ui/loom/dye";
import { useWidth } from "../../ui/useWidth";

/** Where it stands on the page, for whoever leads there. */
export const PICTURE = "heard-picture";
const ROW_PX = 24;
const HEAD_PX = 30;
/** Names on the left, and behind the right post: channel, level, polarity, latency. */
const NAMES_PX = 170;
const COLUMNS_PX = [140, 64, 92, 92];

/** Return lanes on the left, on the right where each was heard; nothing else is drawn. */
export function HeardPicture({ proof }: { proof: Proof }) {
  return useWidth() === "phone" ? <HeardList proof={proof} /> : <HeardThreads proof={proof} />;
}

function HeardThreads({ proof }: { proof: Proof }) {
  const theme = useTheme();
  const dye = useDye();
  const picture = useMemo(() => heardPicture(proof), [proof]);
  const [frame, width] = useFrameWidth();
  const [left, right] = [NAMES_PX, Math.max(NAMES_PX + 120, width - COLUMNS_PX.reduce((sum, one) => sum + one, 0))];
  const y = (row: number) => HEAD_PX + ROW_PX * (row + 0.5);
  const columns = COLUMNS_PX.map((_, at) => right + 12 + COLUMNS_PX.slice(0, at).reduce((sum, one) => sum + one, 0));
  const height = HEAD_PX + ROW_PX * picture.rows + 6;
  const grey = theme.vars?.palette.text.secondary;
  const red = theme.vars?.palette.error.main;
  const colour = ({ lane, wrong }: HeardThread) => (wrong ? red : dye(lane.colour));
  return (
    <Box ref={frame} sx={{ minWidth: 0, overflow: "hidden" }}>
      <svg
        width={width}
        height={height}
        role="img"
        aria-label="The way back as it was heard"
        fontSize={13}
        fill={theme.vars?.palette.text.primary}
      >
        <g fill={grey} fontWeight={600}>
          <text x={left - 12} y={18} textAnchor="end">
            return lane
          </text>
          {["heard on", "level dB", "polarity", "frames"].map((head, at) => (
            <text key={head} x={columns[at]} y={18}>
              {head}
            </text>
          ))}
        </g>
        {[left, right].map((x) => (
          <line key={x} x1={x} x2={x} y1={HEAD_PX - 2} y2={height - 4} stroke={theme.vars?.palette.divider} strokeWidth={4} />
        ))}
        {picture.threads.map((thread) => (
          <Thread
            key={thread.key}
            thread={thread}
            from={[left, y(thread.fromRow)]}
            to={[right, thread.toRow === null ? y(thread.fromRow) : y(thread.toRow)]}
            colour={colour(thread)}
          />
        ))}
        {proof.lanes.map((lane, row) => (
          <text
            key={lane.lane}
            x={left - 12}
            y={y(row) + 4}
            textAnchor="end"
            fill={lane.fine ? undefined : lane.state === "unknown" ? grey : red}
          >
            {lane.lane} {lane.name}
          </text>
        ))}
        {proof.ends.map(({ id, label }, row) => (
          <text key={id} x={columns[0]} y={y(row) + 4} fill={picture.threads.some(({ toRow }) => toRow === row) ? undefined : grey}>
            {label}
          </text>
        ))}
        {picture.cells.map(({ row, level, polarity, latency, odd }) => (
          <g key={`${row} ${level} ${latency}`} fill={grey}>
            <text x={columns[1]} y={y(row) + 4} fill={odd.level ? red : undefined}>
              {level}
            </text>
            <text x={columns[2]} y={y(row) + 4} fill={odd.polarity ? red : undefined}>
              {polarity}
            </text>
            <text x={columns[3]} y={y(row) + 4} fill={odd.latency ? red : undefined}>
              {latency}
            </text>
          </g>
        ))}
      </svg>
    </Box>
  );
}

/** One lane's way. What ends nowhere is frayed: it comes out a little, and hangs loose. */
function Thread({
  thread,
  from: [x, y],
  to: [endX, endY],
  colour,
}: {
  thread: HeardThread;
  from: [number, number];
  to: [number, number];
  colour: string | undefined;
}) {
  const stroke = { stroke: colour, fill: "none", strokeWidth: thread.wrong ? 3 : 2 };
  if (thread.toRow === null) {
    const loose = x + (endX - x) * 0.3;
    return (
      <g data-heard={thread.key} {...stroke}>
        <path d={`M ${x} ${y} L ${loose} ${y}`} strokeDasharray="2 5" />
        <path d={`M ${loose} ${y} q 8 -1 14 -7 M ${loose} ${y} q 9 0 16 1 M ${loose} ${y} q 8 2 13 8`} strokeWidth={1.5} />
      </g>
    );
  }
  const bend = (endX - x) / 2;
  return <path data-heard={thread.key} {...stroke} d={`M ${x} ${y} C ${x + bend} ${y} ${endX - bend} ${endY} ${endX} ${endY}`} />;
}

/** The same in words, a lane a line. */
function HeardList({ proof }: { proof: Proof }) {
  const labels = new Map(proof.ends.map(({ id, label }) => [id, label]));
  return (
    <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {proof.lanes.map((lane) => (
        <Box component="li" key={lane.lane} sx={{ display: "flex", gap: 1, py: 0.5, alignItems: "baseline" }}>
          <Typography sx={{ flex: "1 1 0", minWidth: 0 }} noWrap>
            {lane.lane} {lane.name}
          </Typography>
          <Typography
            sx={{ flex: "1 1 0", color: lane.fine ? "text.secondary" : lane.state === "unknown" ? "warning.main" : "error.main" }}
          >
            {laneWords(lane, (id) => labels.get(id) ?? id)}
          </Typography>
        </Box>
      ))}
    </Box>
  );
}

/** Known before the picture is first shown. */
function useFrameWidth() {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    setWidth(box.clientWidth);
    const watcher = new ResizeObserver(() => setWidth(box.clientWidth));
    watcher.observe(box);
    return () => watcher.disconnect();
  }, []);
  return [frame, width] as const;
}
