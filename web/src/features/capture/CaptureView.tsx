import { Alert, Box, Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Show, Track } from "../../api/client";
import { api } from "../../api/client";
import { useFrame } from "../../api/live";
import { useCommand, useDisk, useShowCommand } from "../../api/queries";
import { clock, span } from "../../model/format";
import { HoldButton } from "../../ui/HoldButton";
import { StepHead } from "../../ui/StepHead";
import { TrackHead, TrackRow } from "./TrackRow";

/** A row a track, no taller than it must be; while it records the page is held. */
export function CaptureView({ show }: { show: Show }) {
  const disk = useDisk();
  const arm = useShowCommand("/api/edits");
  const start = useCommand("/api/capture/start", "takes");
  const stop = useCommand("/api/capture/stop", "takes");
  const frames = useFrame((frame) => frame.engine?.recording?.frames ?? null);
  const lost = useFrame((frame) => frame.engine?.recording?.lost_blocks ?? 0);
  const ready = useFrame((frame) => frame.engine?.device.state === "running");
  const ended = useFrame((frame) => (frame.engine?.last_take ? JSON.stringify(frame.engine.last_take) : null));
  const ribbon = useQuery({
    queryKey: ["ribbon"],
    queryFn: () => api.get<number[][]>("/api/ribbon"),
    refetchInterval: 2000,
    staleTime: 0,
    enabled: ready,
    retry: false,
  });
  const recording = frames !== null;
  const armed = show.tracks.filter((track) => track.armed);
  const setArmed = (tracks: Track[], on: boolean) =>
    arm({ edit: { kind: "arm", tracks: tracks.map((track) => track.id), armed: on }, label: on ? "Arm" : "Disarm" });
  return (
    <>
      <StepHead title="Capture">
        <Typography
          aria-live="off"
          data-testid="elapsed"
          sx={{ fontSize: 34, fontWeight: 700, lineHeight: 1, color: recording ? "error.main" : "text.primary" }}
        >
          {clock((frames ?? 0) / show.sample_rate_hz)}
        </Typography>
        <Typography color="text.secondary" sx={{ flex: 1, fontSize: 13 }}>
          {armed.length} tracks armed, 24 bit · {span(disk.data?.seconds_left ?? null)} on disk
          {recording ? ` · ${lost === 0 ? "no block lost" : `${lost} blocks lost`}` : ""}
        </Typography>
        {recording ? (
          <HoldButton label="Hold to stop" onHeld={() => stop.mutate({})} />
        ) : (
          <>
            <Button variant="outlined" color="inherit" onClick={() => setArmed(show.tracks, armed.length < show.tracks.length)}>
              {armed.length < show.tracks.length ? "Arm all" : "Disarm all"}
            </Button>
            <Button
              variant="contained"
              color="error"
              size="large"
              disabled={!ready || armed.length === 0 || start.isPending}
              onClick={() => start.mutate({})}
            >
              Start the take
            </Button>
          </>
        )}
      </StepHead>
      {!recording && ended && <LastTake ended={ended} rateHz={show.sample_rate_hz} />}
      {show.tracks.length === 0 && (
        <Alert severity="info" sx={{ mx: 2 }}>
          No tracks yet: patch a source to a track first.
        </Alert>
      )}
      <Box role="list" aria-label="Tracks" sx={{ flex: 1, overflow: "auto", px: 2, pb: 1 }}>
        <TrackHead />
        {show.tracks.map((track) => (
          <TrackRow
            key={track.id}
            track={track}
            held={recording}
            ribbon={(ribbon.data ?? []).map((values) => values[(track.lane ?? 0) - 1] ?? -150)}
            dense={show.tracks.length > 18}
            onArm={(on) => setArmed([track], on)}
          />
        ))}
      </Box>
    </>
  );
}

/** What became of the last take, in words: most of all when it ended by itself. */
function LastTake({ ended, rateHz }: { ended: string; rateHz: number }) {
  const take = JSON.parse(ended) as { number: number; frames: number; lost_blocks: number; reason: string };
  const byHand = take.reason === "stopped by hand";
  return (
    <Alert severity={byHand && take.lost_blocks === 0 ? "success" : "warning"} sx={{ mx: 2, mb: 1, py: 0 }}>
      Take {take.number} is {clock(take.frames / rateHz)} long,{" "}
      {take.lost_blocks === 0 ? "no block lost" : `${take.lost_blocks} blocks lost and filled with silence`}: {take.reason}.
    </Alert>
  );
}
