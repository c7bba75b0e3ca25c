import { Button, FormControlLabel, Switch } from "@mui/material";
import type { Linecheck } from "../../api/client";
import { useSimulation, useSimulationCommand } from "../../api/stage";
import { chosenFault, plantedWords } from "../../model/linecheck";
import { SimulatedAside } from "../../ui/SimulatedAside";

/** What only a simulated stage can do: be silent, be tapped from here, and hide a fault for somebody who learns. */
export function StageAside({ check }: { check: Linecheck }) {
  const stage = useSimulation(true).data;
  const { mutate: act } = useSimulationCommand();
  if (!stage?.simulated) return null;
  return (
    <SimulatedAside
      title="Simulated stage"
      hint="Only the simulation has this: a real stage is silenced and tapped by people."
      stage={stage}
      act={act}
      planted={stage.planted.map(({ kind, row, other }) => ({
        kind,
        row,
        words: plantedWords[kind](nameOf(check, row), nameOf(check, other)),
      }))}
      plantWords="Hide a fault"
      fault={() => {
        const fault = chosenFault(check.rows, Math.random(), Math.random());
        return fault && { do: "plant", ...fault };
      }}
    >
      <FormControlLabel
        control={<Switch size="small" checked={stage.quiet} onChange={(event) => act({ do: "quiet", on: event.target.checked })} />}
        label="The band is silent"
        sx={{ width: "100%" }}
      />
      {stage.quiet && check.turn && (
        <Button variant="outlined" onClick={() => act({ do: "tap", row: check.turn ?? "" })}>
          Tap it
        </Button>
      )}
    </SimulatedAside>
  );
}

function nameOf(check: Linecheck, id: string): string {
  const row = check.rows.find((one) => one.id === id);
  return row ? `${row.number} ${row.name}` : "a source that is gone";
}
