import { Box, Typography } from "@mui/material";
import { useMachine } from "../api/live";
import { useShelf, useVisitor } from "../api/queries";
import { LetInButton } from "../features/door/LetInButton";
import { CaptureState } from "./CaptureState";
import { TasksChip } from "./TasksChip";
import { ThemeSwitch } from "./ThemeSwitch";

/** Over the page of all shows: what nobody in the room may miss there either. */
export function ShelfStrip() {
  const shelf = useShelf("at_hand", "", 50);
  const onAir = shelf.data?.shows.find(({ id }) => id === shelf.data?.on_air);
  const rateHz = useMachine((frame) => frame.engine?.device.rate_hz ?? 48_000);
  const visitor = useVisitor();
  const take = useMachine((frame) => frame.engine?.recording?.take.number ?? null);
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 2.25,
        px: 2,
        minHeight: 52,
        bgcolor: "background.paper",
        borderBottom: 2,
        borderColor: take !== null ? "error.main" : "divider",
        whiteSpace: "nowrap",
      }}
    >
      <Typography component="h1" sx={{ fontSize: 16, fontWeight: 700 }}>
        Loomshuttle
      </Typography>
      <Typography color="text.secondary" sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>
        {onAir ? `${onAir.name} is on air` : shelf.data ? "no show is on air" : ""}
      </Typography>
      <CaptureState rateHz={rateHz} playing={false} />
      <Box sx={{ flex: 1 }} />
      <TasksChip />
      {visitor.data?.visitor?.may === "lead" && <LetInButton />}
      <ThemeSwitch />
    </Box>
  );
}
