import { Alert, Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { Suspense, useState } from "react";
import type { Show, Take } from "../../api/client";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useCommand, useLoom, useShowCommand, useSwingPlan, useTakes } from "../../api/queries";
import { clock } from "../../model/format";
import { later } from "../../ui/later";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";
import { ChannelLevels } from "./ChannelLevels";

const Loom = later(() => import("../../ui/loom/Loom").then((part) => part.Loom), { wide: true });
const ImportPanel = later(() => import("./ImportPanel").then((part) => part.ImportPanel), { wide: true });

/** Swing the desk to the recorder, play a take into its own channels, swing back. */
export function SoundcheckView({ show }: { show: Show }) {
  const onRecorder = show.feed === "recorder";
  const onIt = show.desks.filter(({ feed }) => feed === "recorder").map(({ name }) => name);
  const turned = show.desks.length > 1 ? `${onIt.join(" and ")} ${onIt.length > 1 ? "listen" : "listens"}` : "The desk listens";
  const loom = useLoom("soundcheck");
  const width = useWidth();
  const phone = width === "phone";
  return (
    <>
      <StepHead
        title="Soundcheck"
        hint={
          onRecorder
            ? `${turned} to the recorder. Turn it back before anybody steps up to a microphone.`
            : "Turn the desk's channels to the recorder and mix with no band present."
        }
      />
      <Box
        sx={{
          flex: 1,
          overflow: "auto",
          px: phone ? 1.25 : 2,
          pb: 2,
          display: "grid",
          gridTemplateColumns: phone ? "minmax(0, 1fr)" : "minmax(300px, 5fr) minmax(320px, 6fr)",
          gap: 2,
          alignContent: "start",
          alignItems: "start",
        }}
      >
        <Box sx={{ display: "grid", gap: 2, alignContent: "start" }}>
          {(show.desks.length > 1 ? show.desks : [null]).map((desk) => (
            <Swing key={desk?.id ?? "desk"} show={show} desk={desk} />
          ))}
        </Box>
        <TakeList show={show} />
        <ChannelLevels show={show} />
        {!phone && (
          <Box sx={{ minHeight: 300 }}>
            <Suspense>{loom.data && <Loom loom={loom.data} keep={12} label="Soundcheck loom" onFocus={() => undefined} />}</Suspense>
          </Box>
        )}
      </Box>
    </>
  );
}

/** The turn of one desk, in words before it is done; of the only desk where there is one. */
function Swing({ show, desk }: { show: Show; desk: Show["desks"][number] | null }) {
  const [keep, setKeep] = useState<string[]>([]);
  const onRecorder = (desk?.feed ?? show.feed) === "recorder";
  const to = onRecorder ? "stage" : "recorder";
  const plan = useSwingPlan(to, onRecorder ? [] : keep, desk?.id ?? null);
  const swing = useShowCommand("swing");
  const operates = useMay("operate");
  const words = `Swing ${desk ? `${desk.name} ` : ""}${onRecorder ? "back to the stage" : "to the recorder"}`;
  const harms = plan.data !== undefined && !plan.data.proved;
  return (
    <Box
      component="section"
      aria-label={desk ? `Swing ${desk.name}` : "Swing"}
      sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}
    >
      <Typography component="h3" variant="h2">
        {words}
      </Typography>
      {plan.error && (
        <Alert severity="info" sx={{ my: 1 }}>
          {plan.error.message}
        </Alert>
      )}
      <Box data-testid="plan" sx={{ my: 1, fontSize: 14 }}>
        {plan.data?.words.map((sentence, at) => (
          <Typography key={sentence} sx={{ fontSize: 14, color: harms && at > 0 ? "warning.main" : undefined }}>
            {sentence}
          </Typography>
        ))}
      </Box>
      {operates && !onRecorder && <KeepChoice show={show} desk={desk?.id ?? null} keep={keep} onKeep={setKeep} />}
      {operates && (
        <Button
          variant="contained"
          color={onRecorder ? "primary" : "error"}
          disabled={!plan.data}
          onClick={() =>
            plan.data && swing({ to, version: plan.data.version, ...(desk ? { desk: desk.id } : {}), ...(onRecorder ? {} : { keep }) })
          }
        >
          {harms ? `${words} all the same` : words}
        </Button>
      )}
      {operates && onRecorder && <KeepOthers key={show.keep.join()} show={show} desk={desk?.id ?? null} />}
    </Box>
  );
}

/** While the desk is on the recorder: who steps up to a microphone meanwhile, said before it is done. */
function KeepOthers({ show, desk }: { show: Show; desk: string | null }) {
  const now = show.keep.filter((channel) => show.tracks.some((track) => track.channel === channel));
  const [keep, setKeep] = useState(now);
  const same = keep.length === now.length && keep.every((channel) => now.includes(channel));
  const plan = useSwingPlan("recorder", keep, desk, !same);
  const swing = useShowCommand("swing");
  return (
    <Box sx={{ mt: 1.5 }}>
      <KeepChoice show={show} desk={desk} keep={keep} onKeep={setKeep} />
      {!same && (
        <>
          <Box data-testid="plan-anew" sx={{ fontSize: 14, mb: 1 }}>
            {plan.error?.message ?? plan.data?.words.join(" ")}
          </Box>
          <Button
            variant="outlined"
            disabled={!plan.data}
            onClick={() => plan.data && swing({ to: "recorder", version: plan.data.version, keep, ...(desk ? { desk } : {}) })}
          >
            Turn only these
          </Button>
        </>
      )}
    </Box>
  );
}

/** Who keeps a live microphone while the band comes from disk. */
function KeepChoice({ show, desk, keep, onKeep }: { show: Show; desk: string | null; keep: string[]; onKeep: (keep: string[]) => void }) {
  const withChannel = show.tracks.filter((track) => track.channel !== null && (!desk || track.channel.startsWith(`${desk}/`)));
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

/** Takes that stand there at once; the others are a click away. */
const TAKES_A_PAGE = 8;

function TakeList({ show }: { show: Show }) {
  const [importing, setImporting] = useState(false);
  const [shown, setShown] = useState(TAKES_A_PAGE);
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const takes = useTakes(Math.max(shown, 50));
  return (
    <Box component="section" aria-label="Takes" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Typography component="h3" variant="h2" sx={{ flex: 1 }}>
          Takes
        </Typography>
        {operates && !phone && (
          <Button size="small" variant="outlined" color="inherit" onClick={() => setImporting(true)}>
            Bring in a recording
          </Button>
        )}
      </Box>
      {takes.error && <Alert severity="error">{takes.error.message}</Alert>}
      {takes.data?.count === 0 && (
        <Typography color="text.secondary">No take yet. Capture one, or bring in a folder of WAV files.</Typography>
      )}
      {takes.data?.takes.slice(0, shown).map((take) => (
        <TakeLine key={take.id} take={take} rateHz={show.sample_rate_hz} />
      ))}
      {(takes.data?.count ?? 0) > shown && (
        <Button size="small" color="inherit" onClick={() => setShown((now) => now + TAKES_A_PAGE)}>
          {(takes.data?.count ?? 0) - shown} more, older
        </Button>
      )}
      <Suspense>{importing && <ImportPanel onClose={() => setImporting(false)} />}</Suspense>
    </Box>
  );
}

function TakeLine({ take, rateHz }: { take: Take; rateHz: number }) {
  const play = useCommand(`takes/${take.id}/play`, "takes");
  const stop = useCommand("/api/playing/stop", "takes");
  const operates = useMay("operate");
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
      ) : !operates ? null : playing ? (
        <Button size="small" variant="outlined" onClick={() => stop.mutate({})}>
          Stop
        </Button>
      ) : (
        <Button size="small" variant="outlined" onClick={() => play.mutate({ repeat: true })} aria-label={`Play in a loop: ${take.name}`}>
          Play in a loop
        </Button>
      )}
    </Box>
  );
}
