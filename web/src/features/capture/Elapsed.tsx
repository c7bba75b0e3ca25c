import { Typography } from "@mui/material";
import { useEngineAge, useFrame } from "../../api/live";
import { clock } from "../../model/format";

/** How long the take is by now, readable from afar; a time that nobody confirms is marked as such. */
export function Elapsed({ rateHz }: { rateHz: number }) {
  const age = useEngineAge();
  const seconds = useFrame((frame) => Math.floor((frame.engine?.recording?.pressed_frames ?? 0) / rateHz));
  const state = useFrame((frame) => frame.engine?.recording?.state ?? null);
  const unsure = age !== null && state !== null;
  return (
    <Typography
      aria-live="off"
      data-testid="elapsed"
      sx={{
        fontSize: 34,
        fontWeight: 700,
        lineHeight: 1,
        color: state === null ? "text.primary" : state === "recording" && !unsure ? "error.main" : "warning.main",
      }}
    >
      {unsure ? "≈" : ""}
      {clock(seconds + (unsure && state === "recording" ? age : 0))}
    </Typography>
  );
}
