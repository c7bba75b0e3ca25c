import DarkModeOutlined from "@mui/icons-material/DarkModeOutlined";
import LightModeOutlined from "@mui/icons-material/LightModeOutlined";
import { Box, Button, ButtonBase, IconButton, Typography, useColorScheme } from "@mui/material";
import { useState } from "react";
import type { Show } from "../api/client";
import { useEngineAge, useFrame } from "../api/live";
import { useCommand, useDisk, useShowCommand } from "../api/queries";
import { DeskDialog } from "../features/patch/DeskDialog";
import { clock, span } from "../model/format";
import { NameField } from "../ui/NameField";
import { Shuttle } from "./Shuttle";

/** Always on top: what nobody in the room may miss. */
export function ShowStrip({ show, onFindings }: { show: Show; onFindings: () => void }) {
  const disk = useDisk();
  const stopPlaying = useCommand("/api/playing/stop");
  const take = useFrame((frame) => frame.engine?.recording?.take.number ?? null);
  const playing = useFrame((frame) => frame.deck?.playing?.label ?? null);
  const playingFrames = useFrame((frame) => frame.deck?.playing?.position_frames ?? 0);
  const open = show.findings.filter((finding) => !finding.accepted);
  const stops = open.filter((finding) => finding.severity === "stop").length;
  const notes = open.filter((finding) => finding.severity === "note").length;
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
        <StripName name={show.name} label="Name of the show" field="name" />
      </Typography>
      <Typography
        component="div"
        color="text.secondary"
        sx={{ overflow: "hidden", textOverflow: "ellipsis", minWidth: 0, flexShrink: 100 }}
      >
        <StripName name={show.venue} label="Venue" field="venue" />
      </Typography>
      <Shuttle recorder={onRecorder} />
      <span>
        {show.sample_rate_hz / 1000} kHz · {show.leader ?? "nobody"} leads
      </span>
      <span data-testid="disk">
        {disk.data ? `${span(disk.data.seconds_left)}${disk.data.seconds_left === null ? "" : " on disk"}` : "disk …"}
      </span>
      <CaptureState rateHz={show.sample_rate_hz} playing={playing !== null} />
      {playing !== null && (
        <Button size="small" variant="outlined" sx={{ flexShrink: 0 }} onClick={() => stopPlaying.mutate({})}>
          ▶ {playing} {clock(playingFrames / show.sample_rate_hz)} · Stop
        </Button>
      )}
      <Box sx={{ flex: 1 }} />
      <Button size="small" color={stops > 0 ? "error" : "inherit"} onClick={onFindings} sx={{ flexShrink: 0 }}>
        {open.length === 0
          ? "No findings"
          : open.length === notes
            ? `${notes} worth knowing`
            : `${stops} stop · ${open.length - stops - notes} other`}
      </Button>
      <DeskChip />
      <ThemeSwitch />
    </Box>
  );
}

/** The show's name or its venue: a click opens it for writing. */
function StripName({ name, label, field }: { name: string; label: string; field: "name" | "venue" }) {
  const [writing, setWriting] = useState(false);
  const edit = useShowCommand("/api/edits");
  if (writing)
    return (
      <NameField
        name={name}
        label={label}
        {...(field === "venue" ? { empty: "no venue" } : {})}
        sx={{ width: 200 }}
        onRename={(text) => edit({ label: `${label}: ${text}`.slice(0, 200), edit: { kind: "about", [field]: text } })}
        onLeave={() => setWriting(false)}
      />
    );
  return (
    <ButtonBase
      title={`${label}: click to write it`}
      sx={{ font: "inherit", color: "inherit", display: "block", overflow: "hidden", textOverflow: "ellipsis", maxWidth: "100%" }}
      onClick={() => setWriting(true)}
    >
      {name || "no venue"}
    </ButtonBase>
  );
}

/** What is recorded now; or, where nobody says so at the moment, what was when it was last heard of. */
function CaptureState({ rateHz, playing }: { rateHz: number; playing: boolean }) {
  const age = useEngineAge();
  const known = useFrame((frame) => frame.engine !== null);
  const take = useFrame((frame) => frame.engine?.recording?.take.number ?? null);
  const state = useFrame((frame) => frame.engine?.recording?.state ?? null);
  const frames = useFrame((frame) => Math.floor((frame.engine?.recording?.pressed_frames ?? 0) / rateHz));
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

/** Whether desk and engine answer, and whether the desk has what the plan says. */
function DeskChip() {
  const answers = useFrame((frame) => frame.desk.answers);
  const age = useEngineAge();
  const running = useFrame((frame) => frame.engine?.device.state === "running");
  const engine = running && age === null;
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
