import { Box } from "@mui/material";
import { useEngineAge, useMachine } from "../api/live";
import { clock } from "../model/format";

/** What is recorded now; or, where nobody says so at the moment, what was when it was last heard of. */
export function CaptureState({ rateHz }: { rateHz: number }) {
  const playing = useMachine((frame) => frame.deck?.playing != null);
  const age = useEngineAge();
  const known = useMachine((frame) => frame.engine !== null);
  const take = useMachine((frame) => frame.engine?.recording?.take.number ?? null);
  const state = useMachine((frame) => frame.engine?.recording?.state ?? null);
  const frames = useMachine((frame) => Math.floor((frame.engine?.recording?.pressed_frames ?? 0) / rateHz));
  const old = age === null ? "" : ` when last heard, ${age} s ago`;
  if (!known)
    return (
      <Box component="span" sx={{ color: "warning.main" }}>
        capture not known yet
      </Box>
    );
  if (take === null)
    return playing && age === null ? null : (
      <Box component="span" sx={{ color: age === null ? "text.secondary" : "warning.main" }}>
        not capturing{old}
      </Box>
    );
  // Nobody counts for us then: the clock goes on, as the recording most likely does.
  const elapsed = clock(frames + (state === "recording" ? (age ?? 0) : 0));
  const words =
    state === "waiting"
      ? `take ${take} broken off, waits, ${elapsed}`
      : state === "closing"
        ? `take ${take} is being closed`
        : `● take ${take}, ${elapsed}`;
  return (
    <Box
      component="strong"
      data-testid="capture-state"
      sx={{
        overflow: "hidden",
        textOverflow: "ellipsis",
        minWidth: 120,
        fontSize: age === null ? "inherit" : 13,
        color: age === null && state === "recording" ? "error.main" : "warning.main",
      }}
    >
      {age === null ? words : `take ${take}: ${state === "waiting" ? "waiting" : "recording"}${old}, about ${elapsed}`}
    </Box>
  );
}
