import { Box } from "@mui/material";
import type { LinecheckRow } from "../../api/client";

const WIDTH = 320;
const HEIGHT = 84;

/** Two sources that look swapped: where each is planned to go, and where the tapped one came in. */
export function Crossing({ row, other }: { row: LinecheckRow; other: LinecheckRow }) {
  const [upper, lower] = [22, 62];
  return (
    <Box sx={{ mt: 1, color: "text.secondary" }}>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`${row.name} came in where ${other.name} belongs`}>
        <path d={way(upper, upper)} fill="none" stroke="currentColor" strokeDasharray="3 5" />
        <path d={way(upper, lower)} fill="none" style={{ stroke: "var(--mui-palette-error-main)" }} strokeWidth={3} />
        <text x={0} y={upper + 5} fill="currentColor" fontSize={14} fontWeight={700}>
          {row.number}
        </text>
        <text x={WIDTH} y={upper + 5} textAnchor="end" fill="currentColor" fontSize={13}>
          lane {row.lanes[0] ?? "–"}
        </text>
        <text x={WIDTH} y={lower + 5} textAnchor="end" fill="currentColor" fontSize={13}>
          lane {other.lanes[0] ?? "–"}
        </text>
        <text x={0} y={lower + 5} fill="currentColor" fontSize={14}>
          {other.number}
        </text>
      </svg>
    </Box>
  );
}

const way = (from: number, to: number) => `M 28 ${from} C 140 ${from} 150 ${to} 258 ${to}`;
