import { Box, Button, FormControlLabel, Paper, Switch, Typography } from "@mui/material";
import { useState } from "react";
import type { Linecheck, Simulation } from "../../api/client";
import { useFrame } from "../../api/live";
import { useSimulation, useSimulationCommand } from "../../api/queries";
import { chosenFault, plantedWords } from "../../model/linecheck";
import { May } from "../../ui/May";

/** What only a simulated stage can do: be silent, be tapped from here, and hide a fault for somebody who learns. */
export function StageAside({ check }: { check: Linecheck }) {
  const answers = useFrame((frame) => frame.desk.answers);
  const stage = useSimulation(answers).data;
  if (!stage?.simulated) return null;
  return (
    <May what="stage">
      <Paper component="section" aria-label="Simulated stage" variant="outlined" sx={{ p: 1.5, borderStyle: "dashed" }}>
        <Typography component="h3" sx={{ fontSize: 14, fontWeight: 700 }}>
          Simulated stage
        </Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          Only the simulation has this: a real stage is silenced and tapped by people.
        </Typography>
        <Acts check={check} stage={stage} />
      </Paper>
    </May>
  );
}

function Acts({ check, stage }: { check: Linecheck; stage: Simulation }) {
  const act = useSimulationCommand();
  const [shown, setShown] = useState(false);
  const plant = () => {
    const fault = chosenFault(check.rows, Math.random(), Math.random());
    setShown(false);
    if (fault) act.mutate({ do: "plant", ...fault });
  };
  return (
    <>
      <FormControlLabel
        control={<Switch size="small" checked={stage.quiet} onChange={(event) => act.mutate({ do: "quiet", on: event.target.checked })} />}
        label="The band is silent"
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {stage.quiet && check.turn && (
          <Button variant="outlined" onClick={() => act.mutate({ do: "tap", row: check.turn ?? "" })}>
            Tap it
          </Button>
        )}
        <Button onClick={plant}>Hide a fault</Button>
        {stage.planted.length > 0 && (
          <Button aria-expanded={shown} onClick={() => setShown(!shown)}>
            {shown ? "Hide what is planted" : `Show what is planted (${stage.planted.length})`}
          </Button>
        )}
      </Box>
      {shown &&
        stage.planted.map((fault) => (
          <Box key={`${fault.kind} ${fault.row}`} sx={{ display: "flex", alignItems: "center", gap: 1 }}>
            <Typography sx={{ flex: 1 }}>{plantedWords[fault.kind](nameOf(check, fault.row), nameOf(check, fault.other))}.</Typography>
            <Button onClick={() => act.mutate({ do: "unplant", kind: fault.kind, row: fault.row })}>Put it right</Button>
          </Box>
        ))}
    </>
  );
}

function nameOf(check: Linecheck, id: string): string {
  const row = check.rows.find((one) => one.id === id);
  return row ? `${row.number} ${row.name}` : "a source that is gone";
}
