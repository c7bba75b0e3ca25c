import { Box } from "@mui/material";

/** The feed, drawn as a shuttle that lies on the Stage or on the Recorder side; where there is little room only that side is named. */
export function Shuttle({ recorder, small = false }: { recorder: boolean; small?: boolean }) {
  const side = (own: boolean, name: string) =>
    small && !own ? null : (
      <Box
        component="span"
        sx={{ fontWeight: own ? 700 : 400, color: own ? (recorder ? "error.main" : "text.primary") : "text.secondary" }}
      >
        {name}
      </Box>
    );
  return (
    <Box
      role="img"
      aria-label={`The desk listens to the ${recorder ? "recorder" : "stage"}`}
      sx={{ display: "flex", alignItems: "center", gap: 1, flexShrink: 0 }}
    >
      {side(!recorder, "Stage")}
      <svg width={small ? 56 : 84} height="22" viewBox="0 0 84 22" aria-hidden="true">
        <line x1="4" x2="80" y1="11" y2="11" stroke="currentColor" strokeWidth="2" opacity="0.4" />
        <g style={{ transform: `translateX(${recorder ? 38 : 2}px)`, transition: "transform 180ms ease-out" }}>
          <path d="M0 11 C10 1 34 1 44 11 C34 21 10 21 0 11Z" fill="currentColor" />
          <ellipse cx="22" cy="11" rx="7" ry="3" fill="#6d675d" />
        </g>
      </svg>
      {side(recorder, "Recorder")}
    </Box>
  );
}
