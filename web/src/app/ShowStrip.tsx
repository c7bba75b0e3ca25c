import DarkModeOutlined from "@mui/icons-material/DarkModeOutlined";
import LightModeOutlined from "@mui/icons-material/LightModeOutlined";
import { Box, Button, IconButton, Typography, useColorScheme } from "@mui/material";
import type { Show } from "../api/client";
import { useFrame } from "../api/live";
import { useCommand, useDisk } from "../api/queries";
import { DeskDialog } from "../features/patch/DeskDialog";
import { clock, span } from "../model/format";
import { Shuttle } from "./Shuttle";

/** Always on top: what nobody in the room may miss. */
export function ShowStrip({ show, onFindings }: { show: Show; onFindings: () => void }) {
  const disk = useDisk();
  const stopPlaying = useCommand("/api/playing/stop");
  const recordingFrames = useFrame((frame) => frame.engine?.recording?.frames ?? null);
  const take = useFrame((frame) => frame.engine?.recording?.take.number ?? null);
  const playing = useFrame((frame) => frame.engine?.playing?.label ?? null);
  const playingFrames = useFrame((frame) => frame.engine?.playing?.position_frames ?? 0);
  const open = show.findings.filter((finding) => !finding.accepted);
  const stops = open.filter((finding) => finding.severity === "stop").length;
  const onRecorder = show.feed === "recorder";
  const hatch = "repeating-linear-gradient(135deg, rgba(217,98,79,.28) 0 10px, transparent 10px 20px)";
  return (
    <Box
      component="header"
      data-feed={show.feed}
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
        overflow: "hidden",
        "& > span": { flexShrink: 0 },
      }}
      style={onRecorder ? { backgroundImage: hatch } : {}}
    >
      <Typography component="h1" sx={{ fontSize: 16, fontWeight: 700 }}>
        {show.name}
      </Typography>
      <Typography color="text.secondary" sx={{ overflow: "hidden", textOverflow: "ellipsis", minWidth: 0, flexShrink: 100 }}>
        {show.venue}
      </Typography>
      <Shuttle recorder={onRecorder} />
      <span>
        {show.sample_rate_hz / 1000} kHz · {show.leader ?? "nobody"} leads
      </span>
      <span data-testid="disk">
        {disk.data ? `${span(disk.data.seconds_left)}${disk.data.seconds_left === null ? "" : " on disk"}` : "disk …"}
      </span>
      {take !== null && recordingFrames !== null ? (
        <Box component="strong" sx={{ color: "error.main" }}>
          ● take {take}, {clock(recordingFrames / show.sample_rate_hz)}
        </Box>
      ) : (
        playing === null && (
          <Box component="span" sx={{ color: "text.secondary" }}>
            not capturing
          </Box>
        )
      )}
      {playing !== null && (
        <Button size="small" variant="outlined" sx={{ flexShrink: 0 }} onClick={() => stopPlaying.mutate({})}>
          ▶ {playing} {clock(playingFrames / show.sample_rate_hz)} · Stop
        </Button>
      )}
      <Box sx={{ flex: 1 }} />
      <Button size="small" color={stops > 0 ? "error" : "inherit"} onClick={onFindings} sx={{ flexShrink: 0 }}>
        {open.length === 0 ? "No findings" : `${stops} stop · ${open.length - stops} other`}
      </Button>
      <DeskChip />
      <ThemeSwitch />
    </Box>
  );
}

/** Whether desk and engine answer, and whether the desk has what the plan says. */
function DeskChip() {
  const answers = useFrame((frame) => frame.desk.answers);
  const engine = useFrame((frame) => frame.engine?.device.state === "running");
  return (
    <Box sx={{ display: "flex", gap: 0.5, alignItems: "center", flexShrink: 0 }}>
      <DeskDialog answers={answers} />
      <Box component="span" sx={{ color: engine ? "text.secondary" : "error.main" }}>
        {engine ? "engine ✓" : "engine ✕"}
      </Box>
    </Box>
  );
}

function ThemeSwitch() {
  const { mode, setMode } = useColorScheme();
  const light = mode === "light";
  return (
    <IconButton aria-label={light ? "Night theme" : "Linen theme"} onClick={() => setMode(light ? "dark" : "light")} size="small">
      {light ? <DarkModeOutlined /> : <LightModeOutlined />}
    </IconButton>
  );
}
