import { Alert, Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import type { Show } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useMay } from "../../api/may";
import { useSwingPlan } from "../../api/show";

/** The turn of one desk, in words before it is done; of the only desk where there is one. */
export function Swing({ show, desk, children }: { show: Show; desk: Show["desks"][number] | null; children?: ReactNode }) {
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
      {children}
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
