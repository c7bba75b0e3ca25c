import { Alert, Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Show, Track } from "../../api/client";
import { api } from "../../api/client";
import { useCommand } from "../../api/command";
import { useShowCommand } from "../../api/edits";
import { useEngineAge, useFrame } from "../../api/live";
import { useDisk, useSession } from "../../api/machine";
import { useMay } from "../../api/may";
import { clock, span } from "../../model/format";
import { HoldButton } from "../../ui/HoldButton";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";
import { Elapsed } from "./Elapsed";
import { SessionDialog } from "./SessionDialog";
import { TakesPanel } from "./TakesPanel";
import { TrackHead, TrackRow } from "./TrackRow";

/** A row a track, no taller than it must be; while it records the page is held: a stray key only marks. */
export function CaptureView({ show }: { show: Show }) {
  const [face, setFace] = useState<"tracks" | "takes">("tracks");
  const phone = useWidth() === "phone";
  const operates = useMay("operate");
  const marks = useMay("stage");
  const arm = useShowCommand("edits");
  const start = useCommand("capture/start", "takes");
  const stop = useCommand("/api/capture/stop", "takes");
  const mark = useCommand("/api/capture/mark", "takes");
  const recording = useFrame((frame) => frame.engine?.recording != null);
  const running = useFrame((frame) => frame.engine?.device.state === "running");
  const ready = useEngineAge() === null && running && show.on_air;
  useHotkeys("m", () => mark.mutate({}), { enabled: recording && marks && !mark.isPending });
  const armed = show.tracks.filter((track) => track.armed);
  const setArmed = (tracks: Track[], on: boolean) =>
    arm({ edit: { kind: "arm", tracks: tracks.map((track) => track.id), armed: on }, label: on ? "Arm" : "Disarm" });
  return (
    <>
      <StepHead title="Capture">
        <Elapsed rateHz={show.sample_rate_hz} />
        <StateLine show={show} armed={armed.length} />
        {recording && marks && (
          <Button
            variant="outlined"
            color="inherit"
            size={phone ? "large" : "medium"}
            onClick={() => mark.mutate({})}
            aria-keyshortcuts="m"
            sx={phone ? { flex: 1 } : {}}
          >
            {phone ? "Mark" : "Mark (M)"}
          </Button>
        )}
        {operates && !phone && (
          <Button variant="outlined" color="inherit" onClick={() => setArmed(show.tracks, armed.length < show.tracks.length)}>
            {armed.length < show.tracks.length ? "Arm all" : "Disarm all"}
          </Button>
        )}
        {!operates ? null : recording ? (
          <HoldButton label="Hold to stop" onHeld={() => stop.mutate({})} />
        ) : (
          <Button
            variant="contained"
            color="error"
            size="large"
            disabled={!ready || armed.length === 0 || start.isPending}
            onClick={() => start.mutate({})}
            sx={phone ? { flex: 1 } : {}}
          >
            Start the take
          </Button>
        )}
      </StepHead>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, px: phone ? 1.25 : 2, pb: 0.5, flexWrap: phone ? "wrap" : "nowrap" }}>
        <ToggleButtonGroup exclusive size="small" value={face} onChange={(_, value) => value && setFace(value)} aria-label="What is shown">
          <ToggleButton value="tracks">Tracks now</ToggleButton>
          <ToggleButton value="takes">Takes</ToggleButton>
        </ToggleButtonGroup>
        {operates && !phone && <Groups show={show} onArm={setArmed} />}
        {operates && !phone && <SessionDialog held={recording} />}
        <LastTake rateHz={show.sample_rate_hz} />
      </Box>
      {face === "takes" ? <TakesPanel show={show} /> : <Tracks show={show} ready={ready} onArm={setArmed} />}
    </>
  );
}

/** How much is armed, how long the disk lasts, and what was lost. */
function StateLine({ show, armed }: { show: Show; armed: number }) {
  const phone = useWidth() === "phone";
  const disk = useDisk();
  const session = useSession();
  const lost = useFrame((frame) => (frame.engine?.recording ? frame.engine.recording.lost_blocks : null));
  const missing = useFrame((frame) => frame.engine?.recording?.gap_frames ?? 0) / show.sample_rate_hz;
  const faults = useFrame((frame) => (frame.engine?.recording?.places ?? []).filter((place) => place.fault).length);
  const prerollOff = useFrame((frame) => frame.engine?.preroll.why_not ?? null);
  const left = disk.data?.seconds_left ?? null;
  const wanted = disk.data?.planned_s ?? null;
  const short = left !== null && (left < 1800 || (wanted !== null && left < wanted));
  const depth = session.data?.encoding === "float32" ? "32 bit float" : "24 bit";
  return (
    <Typography
      color={short || faults > 0 || missing > 0 || (lost ?? 0) > 0 ? "warning.main" : "text.secondary"}
      sx={{ flex: phone ? "1 1 100%" : 1, fontSize: 13, minWidth: 180 }}
    >
      {armed} of {show.tracks.length} tracks armed, {depth} · {left === null ? "nothing armed" : `${span(left)} on disk`}
      {short && (wanted !== null && left !== null && left < wanted ? `, the show needs ${span(wanted)}` : ", less than half an hour")}
      {prerollOff !== null && ` · no pre-roll: ${prerollOff}`}
      {missing > 0 && ` · ${missing.toFixed(1)} s missing where it broke off`}
      {lost !== null && ` · ${lost === 0 ? "no block lost" : `${lost} blocks lost`}`}
      {faults > 0 && " · one place refused, the other goes on"}
    </Typography>
  );
}

/** Every group of the input list is armed in one step. */
function Groups({ show, onArm }: { show: Show; onArm: (tracks: Track[], on: boolean) => void }) {
  const groups = useMemo(() => {
    const rows = new Map(show.rows.map((row) => [row.id, row.group]));
    const found = new Map<string, Track[]>();
    for (const track of show.tracks) {
      const group = rows.get(track.row ?? "") ?? "";
      if (group) found.set(group, [...(found.get(group) ?? []), track]);
    }
    return [...found].slice(0, 8);
  }, [show.rows, show.tracks]);
  return (
    <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap" }} role="group" aria-label="Arm a group">
      {groups.map(([name, tracks]) => {
        const on = tracks.every((track) => track.armed);
        return (
          <Button
            key={name}
            size="small"
            color={on ? "error" : "inherit"}
            variant={on ? "outlined" : "text"}
            aria-pressed={on}
            onClick={() => onArm(tracks, !on)}
            sx={{ minWidth: 0, px: 1 }}
          >
            {name}
          </Button>
        );
      })}
    </Box>
  );
}

function Tracks({ show, ready, onArm }: { show: Show; ready: boolean; onArm: (tracks: Track[], on: boolean) => void }) {
  const operates = useMay("operate");
  const marks = useMay("stage");
  const phone = useWidth() === "phone";
  const reset = useCommand("/api/capture/reset", "ribbon");
  const rename = useShowCommand("edits");
  const ribbon = useQuery({
    queryKey: ["ribbon"],
    queryFn: () => api.get<number[][]>("/api/ribbon"),
    refetchInterval: 2000,
    staleTime: 0,
    enabled: ready,
    retry: false,
  });
  // A lane's row of the ribbon is made once for each answer: a canvas is painted anew only then.
  const lanes = useMemo(() => {
    const rows = (show.on_air && ribbon.data) || [];
    return (rows[0] ?? []).map((_, lane) => rows.map((values) => values[lane] ?? -150));
  }, [ribbon.data, show.on_air]);
  if (show.tracks.length === 0)
    return (
      <Alert severity="info" sx={{ mx: 2 }}>
        No tracks yet: patch a source to a track first.
      </Alert>
    );
  return (
    <Box sx={{ flex: 1, overflow: "auto", px: phone ? 1.25 : 2, pb: 1 }}>
      <TrackHead onReset={marks ? () => reset.mutate({}) : undefined} />
      <Box role="list" aria-label="Tracks">
        {show.tracks.map((track) => (
          <TrackRow
            key={track.id}
            track={track}
            ribbon={lanes[(track.lane ?? 0) - 1] ?? NOTHING}
            dense={show.tracks.length > 14}
            acts={
              operates
                ? {
                    onArm: (on) => onArm([track], on),
                    onRename: (name) => rename({ label: `Rename track ${track.number}`, edit: { kind: "rename", id: track.id, name } }),
                    onReset: () => reset.mutate({ lanes: [track.lane ?? 0] }),
                  }
                : null
            }
          />
        ))}
      </Box>
    </Box>
  );
}

const NOTHING: number[] = [];

/** What became of the last take, in words: most of all when it ended by itself. */
function LastTake({ rateHz }: { rateHz: number }) {
  const ended = useFrame((frame) => (frame.engine?.last_take && !frame.engine.recording ? JSON.stringify(frame.engine.last_take) : null));
  if (ended === null) return null;
  const take = JSON.parse(ended) as { number: number; frames: number; lost_blocks: number; reason: string };
  const byHand = take.reason === "stopped by hand";
  return (
    <Alert severity={byHand && take.lost_blocks === 0 ? "success" : "warning"} sx={{ py: 0, ml: "auto" }}>
      Take {take.number} is {clock(take.frames / rateHz)} long,{" "}
      {take.lost_blocks === 0 ? "no block lost" : `${take.lost_blocks} blocks lost and filled with silence`}: {take.reason}.
    </Alert>
  );
}
