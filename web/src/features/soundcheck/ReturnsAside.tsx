import { Box, Button, Paper, Typography } from "@mui/material";
import { useState } from "react";
import type { Show } from "../../api/client";
import { useFrame } from "../../api/live";
import { useSimulation, useSimulationCommand } from "../../api/queries";
import { chosenReturnFault, plantedWords } from "../../model/linecheck";
import { May } from "../../ui/May";

/** What only a simulated desk can do: turn something on the way back without telling, for somebody who learns to find it. */
export function ReturnsAside({ show }: { show: Show }) {
  const answers = useFrame((frame) => frame.desk.answers);
  const stage = useSimulation(answers && show.on_air).data;
  const act = useSimulationCommand();
  const [shown, setShown] = useState(false);
  if (!stage?.simulated || show.feed !== "recorder") return null;
  const planted = stage.planted.filter(({ kind }) => kind === "crossed" || kind === "return");
  const name = (id: string) => show.rows.find((row) => row.id === id)?.name ?? "a source that is gone";
  const plant = () => {
    const onRecorder = show.tracks.flatMap(({ feed, row }) => (feed === "recorder" && row ? [{ id: row }] : []));
    const fault = chosenReturnFault(onRecorder, Math.random(), Math.random());
    setShown(false);
    if (fault) act.mutate({ do: "plant", ...fault });
  };
  return (
    <May what="stage">
      <Paper component="section" aria-label="Simulated desk" variant="outlined" sx={{ p: 1.5, borderStyle: "dashed" }}>
        <Typography component="h3" sx={{ fontSize: 14, fontWeight: 700 }}>
          Simulated desk
        </Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          Only the simulation has this: somebody turns something at the desk, and the desk does not say so.
        </Typography>
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
          <Button onClick={plant}>Hide a fault on the way back</Button>
          {planted.length > 0 && (
            <Button aria-expanded={shown} onClick={() => setShown(!shown)}>
              {shown ? "Hide what is planted" : `Show what is planted (${planted.length})`}
            </Button>
          )}
        </Box>
        {shown &&
          planted.map((fault) => (
            <Box key={`${fault.kind} ${fault.row}`} sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Typography sx={{ flex: 1 }}>{plantedWords[fault.kind](name(fault.row), name(fault.other))}.</Typography>
              <Button onClick={() => act.mutate({ do: "unplant", kind: fault.kind, row: fault.row })}>Put it right</Button>
            </Box>
          ))}
      </Paper>
    </May>
  );
}
