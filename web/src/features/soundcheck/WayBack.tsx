import { Alert, Box, Button, CircularProgress, FormControlLabel, Radio, RadioGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Proof, Show, Soundcheck } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFrame } from "../../api/live";
import { useOpenAgain, usePing } from "../../api/stage";
import { framesMs } from "../../model/proof";
import { May } from "../../ui/May";
import { UndoRedo } from "../../ui/UndoRedo";
import { PICTURE } from "./HeardPicture";

/** Proves by ear what comes back: a quiet sequence on every lane, heard where it arrives. */
export function WayBack({ show, soundcheck }: { show: Show; soundcheck: Soundcheck }) {
  const open = useOpenAgain();
  const lay = useShowCommand("soundcheck/lay");
  return (
    <Box component="section" aria-label="Proof" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Typography component="h3" variant="h2">
        Prove it by ear
      </Typography>
      {soundcheck.muted.length > 0 && (
        <Alert
          severity="error"
          sx={{ my: 1 }}
          action={
            <May what="operate">
              <Button color="inherit" onClick={() => open.mutate({})}>
                Open them
              </Button>
            </May>
          }
        >
          {soundcheck.muted.join(", ")}: muted for a ping that broke off, and still muted.
        </Alert>
      )}
      {soundcheck.unlaid > 0 && (
        <Box sx={{ my: 1 }}>
          <Typography sx={{ fontSize: 14 }}>
            {soundcheck.unlaid === 1 ? "1 track comes" : `${soundcheck.unlaid} tracks come`} back on no lane yet.
          </Typography>
          <May what="operate">
            <Button variant="outlined" onClick={() => lay({})}>
              Lay {soundcheck.unlaid === 1 ? "it" : "them"} on return lanes
            </Button>
          </May>
        </Box>
      )}
      {soundcheck.returns === 0 ? (
        <Typography color="text.secondary" sx={{ fontSize: 14 }}>
          No lane goes back to the desk yet.
        </Typography>
      ) : (
        <>
          {soundcheck.proof ? (
            <Said show={show} proof={soundcheck.proof} />
          ) : (
            <Typography color="text.secondary" sx={{ fontSize: 14 }}>
              Every return lane sends its own quiet noise, and what the desk sends back is listened to: which lane arrives on which channel,
              at which level, how late. No desk has to answer for it.
            </Typography>
          )}
          <May what="operate">
            <Send show={show} soundcheck={soundcheck} />
          </May>
        </>
      )}
    </Box>
  );
}

function Said({ show, proof }: { show: Show; proof: Proof }) {
  const mend = useShowCommand("soundcheck/mend");
  const bad = proof.quick
    ? proof.feed !== show.feed && proof.feed !== "unknown"
    : proof.lanes.some(({ fine, state }) => !fine && state !== "unknown");
  return (
    <Box sx={{ my: 1, fontSize: 14 }} data-testid="proof">
      <Typography color="text.secondary" sx={{ fontSize: 13 }}>
        {proof.quick ? "Which side" : "Lane by lane"}, heard at {proof.at.slice(11, 19)} UTC{proof.who && ` by ${proof.who}`}
        {proof.round_trip_frames !== null &&
          ` · out and back ${proof.round_trip_frames} frames (${framesMs(proof.round_trip_frames, proof.rate_hz)})`}
      </Typography>
      {!proof.holds && (
        <Alert severity="warning" sx={{ my: 0.5 }}>
          The patch is another since. Send it again.
        </Alert>
      )}
      {proof.words.map((sentence) => (
        <Typography key={sentence} sx={{ fontSize: 14, color: proof.holds && bad ? "warning.main" : undefined }}>
          {sentence}
        </Typography>
      ))}
      {proof.holds && proof.steps.length > 0 && (
        <>
          <Typography sx={{ fontSize: 14, mt: 1, fontWeight: 600 }}>At the desk</Typography>
          <Box component="ol" sx={{ m: 0, pl: 3 }}>
            {proof.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </Box>
        </>
      )}
      {proof.lanes.length > 0 && (
        <Button size="small" sx={{ mt: 0.5, ml: -0.5 }} onClick={() => document.getElementById(PICTURE)?.scrollIntoView()}>
          Each lane as it was heard
        </Button>
      )}
      {proof.holds && proof.mend && (
        <May what="operate">
          <Box sx={{ mt: 1, display: "flex", alignItems: "center", gap: 1 }}>
            {proof.mend.label ? (
              <Button variant="outlined" onClick={() => mend({})}>
                {proof.mend.label}
              </Button>
            ) : (
              <Typography color="text.secondary" sx={{ fontSize: 13 }}>
                {proof.mend.why}
              </Typography>
            )}
            <UndoRedo />
          </Box>
        </May>
      )}
    </Box>
  );
}

/** Nobody is to hear it: the desk mutes its channels meanwhile, or somebody says that the outputs are. */
function Send({ show, soundcheck }: { show: Show; soundcheck: Soundcheck }) {
  const ping = usePing();
  const answers = useFrame((frame) => frame.desk.answers);
  const byDesk = answers && soundcheck.by_channel > 0;
  const [chosen, setChosen] = useState<"mute" | "muted" | null>(null);
  const outputs = chosen ?? (byDesk ? "mute" : null);
  const busy = ping.isPending || soundcheck.pinging;
  const send = (quick: boolean) => outputs && ping.mutate({ outputs, quick });
  return (
    <Box sx={{ mt: 1 }}>
      <RadioGroup
        value={outputs ?? ""}
        onChange={(_, value) => setChosen(value === "mute" ? "mute" : "muted")}
        aria-label="So that nobody hears it"
      >
        <FormControlLabel
          value="mute"
          disabled={!byDesk}
          control={<Radio size="small" sx={{ py: 0.25 }} />}
          slotProps={{ typography: { sx: { fontSize: 13 } } }}
          label="The desk mutes its channels while it sounds"
        />
        <FormControlLabel
          value="muted"
          control={<Radio size="small" sx={{ py: 0.25 }} />}
          slotProps={{ typography: { sx: { fontSize: 13 } } }}
          label="The outputs are muted: I have looked"
        />
      </RadioGroup>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 0.5, alignItems: "center" }}>
        <Button variant="contained" disabled={!outputs || busy || !show.on_air} onClick={() => send(false)}>
          Send the ping
        </Button>
        <Button variant="outlined" color="inherit" disabled={!outputs || busy || !show.on_air} onClick={() => send(true)}>
          Only which side
        </Button>
        {busy && (
          <>
            <CircularProgress size={18} aria-label="The ping is being sent" />
            <Typography sx={{ fontSize: 13 }}>It sounds, and is listened to.</Typography>
          </>
        )}
      </Box>
    </Box>
  );
}
