import { Box, Button, Typography } from "@mui/material";
import { Suspense } from "react";
import { useMachine } from "../api/live";
import { useMay } from "../api/may";
import { useShelf } from "../api/shelf";
import { later } from "../ui/later";
import { useWidth } from "../ui/useWidth";
import { CaptureState } from "./CaptureState";
import { guideAt } from "./guide";
import { TasksChip } from "./TasksChip";
import { ThemeSwitch } from "./ThemeSwitch";

const LetInButton = later(() => import("../features/door/LetInButton").then((part) => part.LetInButton));

/** Over the page of all shows: what nobody in the room may miss there either. */
export function ShelfStrip() {
  const shelf = useShelf("at_hand", "", 50);
  const onAir = shelf.data?.shows.find(({ id }) => id === shelf.data?.on_air);
  const rateHz = useMachine((frame) => frame.engine?.device.rate_hz ?? 48_000);
  const leads = useMay("lead");
  const phone = useWidth() === "phone";
  const take = useMachine((frame) => frame.engine?.recording?.take.number ?? null);
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        alignItems: "center",
        columnGap: 2.25,
        flexWrap: "wrap",
        px: phone ? 1.25 : 2,
        py: phone ? 0.5 : 0,
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
      <CaptureState rateHz={rateHz} />
      <Box sx={{ flex: 1 }} />
      <TasksChip />
      <Suspense>{leads && <LetInButton />}</Suspense>
      <Button color="inherit" size="small" href={guideAt("shows")} target="_blank" rel="noreferrer">
        Guide
      </Button>
      <ThemeSwitch />
    </Box>
  );
}
