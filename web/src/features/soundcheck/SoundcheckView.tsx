import { Alert, Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Take } from "../../api/client";
import { useFrame } from "../../api/live";
import { useCommand, useLoom, useShowCommand, useSwingPlan, useTakes } from "../../api/queries";
import { clock, numberOf } from "../../model/format";
import { Loom } from "../../ui/loom/Loom";
import { StepHead } from "../../ui/StepHead";
import { ChannelLevels } from "./ChannelLevels";
import { ImportPanel } from "./ImportPanel";

/** Swing the desk to the recorder, play a take into its own channels, swing back. */
export function SoundcheckView({ show }: { show: Show }) {
  const [keep, setKeep] = useState<string[]>([]);
  const onRecorder = show.feed === "recorder";
  const to = onRecorder ? "stage" : "recorder";
  const plan = useSwingPlan(to, onRecorder ? [] : keep);
  const swing = useShowCommand("/api/swing");
  const loom = useLoom("soundcheck");
  return (
    <>
      <StepHead
        title="Soundcheck"
        hint={
          onRecorder
            ? "The desk listens to the recorder. Turn it back before anybody steps up to a microphone."
            : "Turn the desk's channels to the recorder and mix with no band present."
        }
      />
      <Box
        sx={{
          flex: 1,
          overflow: "auto",
          px: 2,
          pb: 2,
          display: "grid",
          gridTemplateColumns: "minmax(300px, 5fr) minmax(320px, 6fr)",
          gap: 2,
          alignContent: "start",
        }}
      >
        <Box component="section" aria-label="Swing" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
          <Typography component="h3" variant="h2">
            {onRecorder ? "Swing back to the stage" : "Swing to the recorder"}
          </Typography>
          {plan.error && (
            <Alert severity="info" sx={{ my: 1 }}>
              {plan.error.message}
            </Alert>
          )}
          {plan.data && <PlanWords plan={plan.data} />}
          {!onRecorder && <KeepChoice show={show} keep={keep} onKeep={setKeep} />}
          <Button
            variant="contained"
            color={onRecorder ? "primary" : "error"}
            disabled={!plan.data?.proved}
            onClick={() => swing({ to, ...(onRecorder ? {} : { keep }) })}
          >
            {onRecorder ? "Swing back to the stage" : "Swing to the recorder"}
          </Button>
        </Box>
        <TakeList show={show} />
        <ChannelLevels show={show} />
        <Box sx={{ minHeight: 300 }}>
          {loom.data && <Loom loom={loom.data} keep={12} label="Soundcheck loom" onFocus={() => undefined} />}
        </Box>
      </Box>
    </>
  );
}

/** The swing in words, before it is done. */
function PlanWords({ plan }: { plan: { to: string; changes: { slot: string; to: string | null }[]; stays: string[]; proved: boolean } }) {
  const channels = plan.changes.filter((change) => change.slot.includes("/channel/"));
  const numbers = channels.map((change) => numberOf(change.slot)).sort((a, b) => a - b);
  return (
    <Typography sx={{ my: 1, fontSize: 14 }} data-testid="plan">
      {numbers.length} channels between {numbers[0]} and {numbers.at(-1)} turn to the {plan.to}.
      {plan.stays.length > 0 ? ` Channel ${plan.stays.map(numberOf).join(", ")} stays on the stage.` : ""}{" "}
      {plan.proved ? "Checked: turning it there and back gives the same patch." : "It could not be turned back to the same patch."}
    </Typography>
  );
}

/** Who keeps a live microphone while the band comes from disk. */
function KeepChoice({ show, keep, onKeep }: { show: Show; keep: string[]; onKeep: (keep: string[]) => void }) {
  const withChannel = show.tracks.filter((track) => track.channel !== null);
  if (withChannel.length === 0) return null;
  return (
    <Box component="fieldset" sx={{ border: 0, p: 0, m: 0, mb: 1 }}>
      <Typography component="legend" color="text.secondary" sx={{ fontSize: 13 }}>
        Stays on the stage on purpose
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(128px, 1fr))" }}>
        {withChannel.map((track) => {
          const channel = track.channel ?? "";
          return (
            <FormControlLabel
              key={track.id}
              control={
                <Checkbox
                  size="small"
                  checked={keep.includes(channel)}
                  onChange={(_, on) => onKeep(on ? [...keep, channel] : keep.filter((one) => one !== channel))}
                  sx={{ py: 0.25 }}
                />
              }
              label={track.name}
              slotProps={{ typography: { sx: { fontSize: 13 } } }}
            />
          );
        })}
      </Box>
    </Box>
  );
}

function TakeList({ show }: { show: Show }) {
  const takes = useTakes();
  const [importing, setImporting] = useState(false);
  return (
    <Box component="section" aria-label="Takes" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Typography component="h3" variant="h2" sx={{ flex: 1 }}>
          Takes
        </Typography>
        <Button size="small" variant="outlined" color="inherit" onClick={() => setImporting(true)}>
          Bring in a recording
        </Button>
      </Box>
      {takes.error && <Alert severity="error">{takes.error.message}</Alert>}
      {takes.data?.length === 0 && (
        <Typography color="text.secondary">No take yet. Capture one, or bring in a folder of WAV files.</Typography>
      )}
      {takes.data?.slice(0, 8).map((take) => (
        <TakeLine key={take.id} take={take} rateHz={show.sample_rate_hz} />
      ))}
      {importing && <ImportPanel onClose={() => setImporting(false)} />}
    </Box>
  );
}

function TakeLine({ take, rateHz }: { take: Take; rateHz: number }) {
  const play = useCommand(`/api/takes/${take.id}/play`, "takes");
  const stop = useCommand("/api/playing/stop", "takes");
  const playing = useFrame((frame) => frame.deck?.playing?.key === `take/${take.id}`);
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.25 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <strong>{take.name}</strong>{" "}
        <Box component="span" sx={{ color: "text.secondary" }}>
          {clock(take.frames / rateHz)} · {new Set(take.files.map((file) => file.track)).size} tracks · {take.origin}
        </Box>
      </Box>
      {take.state === "recording" ? (
        <Box component="span" sx={{ color: "error.main" }}>
          recording
        </Box>
      ) : playing ? (
        <Button size="small" variant="outlined" onClick={() => stop.mutate({})}>
          Stop
        </Button>
      ) : (
        <Button size="small" variant="outlined" onClick={() => play.mutate({ repeat: true })} aria-label={`Play ${take.name}`}>
          Play in a loop
        </Button>
      )}
    </Box>
  );
}
