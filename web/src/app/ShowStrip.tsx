import { Box, Button, ButtonBase, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import { Link, useParams } from "react-router";
import type { Finding, Show } from "../api/client";
import { useCommand } from "../api/command";
import { useShowCommand } from "../api/edits";
import { useEngineAge, useMachine } from "../api/live";
import { useDisk } from "../api/machine";
import { useMay } from "../api/may";
import { DeskDialog } from "../features/patch/DeskDialog";
import { clock, span } from "../model/format";
import { NameField } from "../ui/NameField";
import { useWidth } from "../ui/useWidth";
import { CaptureState } from "./CaptureState";
import { guideAt } from "./guide";
import { Shuttle } from "./Shuttle";
import { StripMenu } from "./StripMenu";
import { TasksChip } from "./TasksChip";
import { ThemeSwitch } from "./ThemeSwitch";

interface Props {
  show: Show;
  onFindings: () => void;
  /** Opens the question who is on air. */
  onAir: () => void;
  /** Opens the sheet of keys. */
  onKeys: () => void;
}

/** Always on top: what nobody in the room may miss; what is only good to know stands behind one button where there is no room. */
export function ShowStrip({ show, onFindings, onAir, onKeys }: Props) {
  const width = useWidth();
  const recording = useMachine((frame) => frame.engine?.recording != null);
  const onRecorder = show.feed === "recorder";
  const hatch = "repeating-linear-gradient(135deg, rgba(217,98,79,.28) 0 10px, transparent 10px 20px)";
  const rest = (
    <>
      <OnAirButton show={show} onAir={onAir} />
      <Box sx={{ fontSize: 12.5, lineHeight: 1.35, color: "text.secondary", flexShrink: 0 }}>
        <div>
          {show.sample_rate_hz / 1000} kHz, {show.leader ?? "nobody"} leads
        </div>
        <DiskLeft />
      </Box>
    </>
  );
  const name = (
    <Box sx={{ minWidth: 0, flex: "0 1 auto", lineHeight: 1.25 }}>
      <Typography component="h1" sx={{ fontSize: 15.5, fontWeight: 700, lineHeight: 1.25 }}>
        <StripName name={show.name} label="Name of the show" field="name" />
      </Typography>
      {width !== "phone" && (
        <Typography component="div" color="text.secondary" sx={{ fontSize: 12.5, lineHeight: 1.25 }}>
          <StripName name={show.venue} label="Venue" field="venue" />
        </Typography>
      )}
    </Box>
  );
  const state = (
    <>
      <CaptureState rateHz={show.sample_rate_hz} />
      <Playing rateHz={show.sample_rate_hz} />
      <TasksChip />
    </>
  );
  const more = (
    <StripMenu>
      {rest}
      {show.on_air && <DeskChip />}
      <ThemeSwitch />
      <Button component={Link} to="/" color="inherit">
        All shows
      </Button>
      <Guide />
      {width === "tablet" && (
        <Button color="inherit" onClick={onKeys}>
          Keys
        </Button>
      )}
    </StripMenu>
  );
  return (
    <Box
      component="header"
      data-feed={show.feed}
      sx={{
        bgcolor: "background.paper",
        borderBottom: 2,
        borderColor: recording ? "error.main" : "divider",
        whiteSpace: "nowrap",
        flexShrink: 0,
        px: width === "desk" ? 2 : 1.25,
      }}
      style={onRecorder ? { backgroundImage: hatch } : {}}
    >
      {width === "phone" ? (
        <>
          <Line>
            {name}
            <Box sx={{ flex: 1 }} />
            <WorstFinding findings={show.findings} onFindings={onFindings} />
            {more}
          </Line>
          <Line low>
            <Shuttle recorder={onRecorder} small />
            {state}
          </Line>
        </>
      ) : (
        <Line>
          {name}
          {width === "desk" && rest}
          <Shuttle recorder={onRecorder} small={width === "tablet"} />
          {state}
          <Box sx={{ flex: 1 }} />
          <WorstFinding findings={show.findings} onFindings={onFindings} />
          {width === "desk" ? (
            <>
              {show.on_air && <DeskChip />}
              <ThemeSwitch />
            </>
          ) : (
            more
          )}
        </Line>
      )}
    </Box>
  );
}

const Line = ({ low, children }: { low?: boolean; children: ReactNode }) => (
  <Box sx={{ display: "flex", alignItems: "center", gap: 1.75, minHeight: low ? 40 : 52, minWidth: 0 }}>{children}</Box>
);

function OnAirButton({ show, onAir }: { show: Show; onAir: () => void }) {
  const words = show.on_air ? (show.follows ? "on air" : "on air, watching") : "not on air";
  if (!useMay("operate")) return <Box sx={{ color: show.on_air ? "success.main" : "text.secondary", fontWeight: 600 }}>{words}</Box>;
  return (
    <Button
      size="small"
      variant="outlined"
      color={show.on_air ? "success" : "inherit"}
      onClick={onAir}
      title="Which show holds desk and audio device"
      sx={{ flexShrink: 0 }}
    >
      {words}
    </Button>
  );
}

function DiskLeft() {
  const disk = useDisk();
  return (
    <div data-testid="disk">
      {disk.data ? `${span(disk.data.seconds_left)}${disk.data.seconds_left === null ? "" : " on disk"}` : "disk …"}
    </div>
  );
}

/** What plays, with the way to stop it for who may. */
function Playing({ rateHz }: { rateHz: number }) {
  const stop = useCommand("/api/playing/stop");
  const operates = useMay("operate");
  const playing = useMachine((frame) => frame.deck?.playing?.label ?? null);
  const frames = useMachine((frame) => frame.deck?.playing?.position_frames ?? 0);
  if (playing === null) return null;
  const words = `▶ ${playing} ${clock(frames / rateHz)}`;
  const cut = { minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", display: "block" };
  if (!operates) return <Box sx={cut}>{words}</Box>;
  return (
    <Button size="small" variant="outlined" sx={{ minWidth: 0, flexShrink: 1 }} onClick={() => stop.mutate({})}>
      <Box component="span" sx={cut}>
        {words}
      </Box>
      <span>&nbsp;· Stop</span>
    </Button>
  );
}

/** The worst of what is open, and how much there is besides; it leads to all of them. */
function WorstFinding({ findings, onFindings }: { findings: Finding[]; onFindings: () => void }) {
  const open = findings.filter((finding) => !finding.accepted);
  const stops = open.filter((finding) => finding.severity === "stop").length;
  const notes = open.filter((finding) => finding.severity === "note").length;
  const short = useWidth() === "phone";
  const others = open.length - stops - notes;
  const count = (many: number, one: string) => `${many} ${one}${many === 1 ? "" : "s"}`;
  const words =
    open.length === 0
      ? "No findings"
      : open.length === notes
        ? `${notes} worth knowing`
        : stops === 0
          ? count(others, "finding")
          : `${count(stops, "stop")}${others > 0 && !short ? ` · ${others} more` : ""}`;
  return (
    <Button
      size="small"
      variant={stops > 0 ? "outlined" : "text"}
      color={stops > 0 ? "error" : "inherit"}
      onClick={onFindings}
      sx={{ flexShrink: 0 }}
    >
      {words}
    </Button>
  );
}

function Guide() {
  const { step = "" } = useParams();
  return (
    <Button color="inherit" href={guideAt(step)} target="_blank" rel="noreferrer">
      Guide
    </Button>
  );
}

/** The show's name or its venue: a click opens it for writing. */
function StripName({ name, label, field }: { name: string; label: string; field: "name" | "venue" }) {
  const [writing, setWriting] = useState(false);
  const edit = useShowCommand("edits");
  const cut = { overflow: "hidden", textOverflow: "ellipsis" };
  // Two lines for fingers have no room in the strip.
  const desk = useWidth() === "desk";
  if (!useMay("operate") || !desk) return <Box sx={cut}>{name || "no venue"}</Box>;
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
      sx={{ ...cut, font: "inherit", color: "inherit", display: "block", maxWidth: "100%", minHeight: 24 }}
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
