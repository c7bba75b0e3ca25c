import { Box, Button, FormControlLabel, Paper, Switch, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import type { Simulation, SimulationWish } from "../api/client";
import { May } from "./May";

interface Props {
  title: string;
  hint: string;
  stage: Simulation;
  /** What is planted that belongs here, in words. */
  planted: { kind: NonNullable<Simulation["planted"][number]>["kind"]; row: string; words: string }[];
  act: (wish: SimulationWish) => void;
  /** A fault to be found by somebody who learns, or null where none can be planted. */
  fault: () => Extract<SimulationWish, { do: "plant" }> | null;
  plantWords: string;
  children?: ReactNode;
}

/** What only a simulated stage and desk can do: marked as the simulation's, wherever it stands. */
export function SimulatedAside({ title, hint, stage, planted, act, fault, plantWords, children }: Props) {
  const [shown, setShown] = useState(false);
  const plant = () => {
    const wish = fault();
    setShown(false);
    if (wish) act(wish);
  };
  return (
    <May what="stage">
      <Paper component="section" aria-label={title} variant="outlined" sx={{ p: 1.5, borderStyle: "dashed" }}>
        <Typography component="h3" sx={{ fontSize: 14, fontWeight: 700 }}>
          {title}
        </Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {hint}
        </Typography>
        <FormControlLabel
          control={<Switch size="small" checked={stage.cut} onChange={({ target }) => act({ do: "cut", on: target.checked })} />}
          label="The desk's control line is cut"
        />
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center" }}>
          {children}
          <Button onClick={plant}>{plantWords}</Button>
          {planted.length > 0 && (
            <Button aria-expanded={shown} onClick={() => setShown(!shown)}>
              {shown ? "Hide what is planted" : `Show what is planted (${planted.length})`}
            </Button>
          )}
        </Box>
        {shown &&
          planted.map(({ kind, row, words }) => (
            <Box key={`${kind} ${row}`} sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Typography sx={{ flex: 1 }}>{words}.</Typography>
              <Button onClick={() => act({ do: "unplant", kind, row })}>Put it right</Button>
            </Box>
          ))}
      </Paper>
    </May>
  );
}
