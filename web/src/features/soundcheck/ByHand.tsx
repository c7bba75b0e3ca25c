import { Alert, Box, Checkbox, FormControlLabel, Typography } from "@mui/material";
import type { Soundcheck } from "../../api/client";
import { useMay } from "../../api/may";
import { useSoundcheckCommand } from "../../api/stage";

/** What a swing turns at a desk that could not be told: done by hand, ticked on any device, then proved by ear. */
export function ByHand({ soundcheck }: { soundcheck: Soundcheck }) {
  const act = useSoundcheckCommand();
  const ticks = useMay("stage");
  const { steps } = soundcheck;
  if (steps.length === 0) return null;
  const left = steps.filter(({ done_by }) => done_by === null).length;
  return (
    <Box component="section" aria-label="Steps by hand" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Typography component="h3" variant="h2">
        At the desk, by hand
      </Typography>
      <Alert severity={left > 0 ? "warning" : "info"} sx={{ my: 1 }}>
        {left > 0
          ? `The desk did not answer when it was swung. ${steps.length === 1 ? "1 step is" : `${left} of ${steps.length} steps are`} left.`
          : "All steps are ticked. Prove it by ear now."}
      </Alert>
      {steps.map((step, at) => (
        <FormControlLabel
          key={step.words}
          sx={{ display: "flex", alignItems: "flex-start", minHeight: 44 }}
          disabled={!ticks}
          control={
            <Checkbox
              checked={step.done_by !== null}
              onChange={(_, on) => act.mutate({ do: "tick", step: at, on })}
              slotProps={{ input: { "aria-label": step.words } }}
            />
          }
          label={
            <Box sx={{ pt: 1 }}>
              {step.words}
              {step.done_by && (
                <Box component="span" sx={{ color: "text.secondary" }}>
                  {" "}
                  · {step.done_by}
                </Box>
              )}
            </Box>
          }
        />
      ))}
    </Box>
  );
}

/** On the stage again: whether it is the stage of before, and what of the line check still holds. */
export function BackOnStage({ soundcheck }: { soundcheck: Soundcheck }) {
  const { back, proof } = soundcheck;
  if (!back) return null;
  const heard = proof?.holds && proof.feed === "stage";
  return (
    <Box data-testid="back" sx={{ mt: 1, fontSize: 14 }}>
      {back.changes.length === 0 ? (
        <Typography sx={{ fontSize: 14 }}>The patch is what it was before the soundcheck, place by place.</Typography>
      ) : (
        <>
          <Typography sx={{ fontSize: 14, color: "warning.main" }}>Not what it was before the soundcheck:</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2.5, color: "warning.main" }}>
            {back.changes.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </Box>
        </>
      )}
      {back.proved + back.again.length > 0 && (
        <Typography sx={{ fontSize: 14, color: back.again.length > 0 ? "warning.main" : undefined }}>
          The line check still holds for {back.proved} {back.proved === 1 ? "source" : "sources"}
          {back.again.length > 0 ? `; to be heard again: ${back.again.join(", ")}.` : "."}
        </Typography>
      )}
      <Typography color="text.secondary" sx={{ fontSize: 14 }}>
        {heard ? "Heard: nothing comes back from the recorder." : "Whether the desk itself is back, a ping tells: Only which side."}
      </Typography>
    </Box>
  );
}
