import { Box } from "@mui/material";

/** The feed, drawn as a shuttle that lies on the Stage or on the Recorder side. */
export function Shuttle({ recorder }: { recorder: boolean }) {
  return (
    <Box
      role="img"
      aria-label={`The desk listens to the ${recorder ? "recorder" : "stage"}`}
      sx={{ display: "flex", alignItems: "center", gap: 1, flexShrink: 0 }}
    >
      <Box component="span" sx={{ fontWeight: recorder ? 400 : 700, color: recorder ? "text.secondary" : "text.primary" }}>
        Stage
      </Box>
      <svg width="84" height="22" aria-hidden="true">
        <line x1="4" x2="80" y1="11" y2="11" stroke="currentColor" strokeWidth="2" opacity="0.4" />
        <g style={{ transform: `translateX(${recorder ? 38 : 2}px)`, transition: "transform 180ms ease-out" }}>
          <path d="M0 11 C10 1 34 1 44 11 C34 21 10 21 0 11Z" fill="currentColor" />
          <ellipse cx="22" cy="11" rx="7" ry="3" fill="#6d675d" />
        </g>
      </svg>
      <Box component="span" sx={{ fontWeight: recorder ? 700 : 400, color: recorder ? "error.main" : "text.secondary" }}>
        Recorder
      </Box>
    </Box>
  );
}
