import { Box, Button, ButtonBase, Typography } from "@mui/material";
import { useState } from "react";
import type { Show } from "../api/client";
import { useEngineAge, useMachine } from "../api/live";
import { useCommand, useDisk, useShowCommand } from "../api/queries";
import { DeskDialog } from "../features/patch/DeskDialog";
import { clock, span } from "../model/format";
import { NameField } from "../ui/NameField";
import { CaptureState } from "./CaptureState";
import { Shuttle } from "./Shuttle";
import { TasksChip } from "./TasksChip";
import { ThemeSwitch } from "./ThemeSwitch";

interface Props {
  show: Show;
  onFindings: () => void;
  /** Opens the question who is on air. */
  onAir: () => void;
}

/** Always on top: what nobody in the room may miss. */
export function ShowStrip({ show, onFindings, onAir }: Props) {
  const disk = useDisk();
  const stopPlaying = useCommand("/api/playing/stop");
  const take = useMachine((frame) => frame.engine?.recording?.take.number ?? null);
  const playing = useMachine((frame) => frame.deck?.playing?.label ?? null);
  const playingFrames = useMachine((frame) => frame.deck?.playing?.position_frames ?? 0);
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
        gap: 1.75,
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
      <Button
        size="small"
        variant="outlined"
        color={show.on_air ? "success" : "inherit"}
        onClick={onAir}
        title="Which show holds desk and audio device"
        sx={{ flexShrink: 0, minHeight: 26, py: 0 }}
      >
        {show.on_air ? (show.follows ? "on air" : "on air, watching") : "not on air"}
      </Button>
      <Shuttle recorder={onRecorder} />
      <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", minWidth: 58, flexShrink: 50 }}>
        {show.sample_rate_hz / 1000} kHz · {show.leader ?? "nobody"} leads
      </Box>
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
      <TasksChip />
      <Button size="small" color={stops > 0 ? "error" : "inherit"} onClick={onFindings} sx={{ flexShrink: 0 }}>
        {open.length === 0
          ? "No findings"
          : open.length === notes
            ? `${notes} worth knowing`
            : `${stops} stop · ${open.length - stops - notes} other`}
      </Button>
      {show.on_air && <DeskChip />}
      <ThemeSwitch />
    </Box>
  );
}

/** The show's name or its venue: a click opens it for writing. */
function StripName({ name, label, field }: { name: string; label: string; field: "name" | "venue" }) {
  const [writing, setWriting] = useState(false);
  const edit = useShowCommand("edits");
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

/** Whether desk and engine answer, and whether the desk has what the plan says. */
function DeskChip() {
  const answers = useMachine((frame) => frame.desk.answers);
  const age = useEngineAge();
  const running = useMachine((frame) => frame.engine?.device.state === "running");
  const engine = running && age === null;
  return (
    <Box sx={{ display: "flex", gap: 0.5, alignItems: "center", flexShrink: 0 }}>
      <DeskDialog answers={answers} />
      <Box component="span" sx={{ fontSize: 13, fontWeight: 600, color: engine ? "text.primary" : "error.main" }}>
        {engine ? "engine ✓" : "engine ✕"}
      </Box>
    </Box>
  );
}
