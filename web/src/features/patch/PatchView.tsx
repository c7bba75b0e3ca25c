import { Alert, Box, Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useState } from "react";
import { useLoom, useShow, useShowCommand, useTrace } from "../../api/queries";
import { Loom } from "../../ui/Loom";
import { StepHead } from "../../ui/StepHead";
import { ThreadSentence } from "../../ui/ThreadSentence";
import { LoomTable } from "./LoomTable";

export function PatchView({ lit }: { lit: string[] }) {
  const loom = useLoom("patch");
  const show = useShow();
  const [focus, setFocus] = useState<string | null>(null);
  const [face, setFace] = useState<"loom" | "table">("loom");
  const trace = useTrace(focus);
  const join = useShowCommand("/api/joins");
  const undo = useShowCommand("/api/undo");
  const redo = useShowCommand("/api/redo");
  return (
    <>
      <StepHead title="Patch">
        <ToggleButtonGroup size="small" exclusive value={face} onChange={(_, value: "loom" | "table" | null) => value && setFace(value)}>
          <ToggleButton value="loom">Loom</ToggleButton>
          <ToggleButton value="table">Table</ToggleButton>
        </ToggleButtonGroup>
        <Box sx={{ flex: 1 }} />
        <Button size="small" disabled={!show.data?.undo} onClick={() => undo()}>
          Undo
        </Button>
        <Button size="small" disabled={!show.data?.redo} onClick={() => redo()}>
          Redo
        </Button>
      </StepHead>
      <Box sx={{ flex: 1, minHeight: 0, px: 2, overflow: "auto" }}>
        {loom.error && <Alert severity="error">{loom.error.message}</Alert>}
        {loom.data && face === "loom" && (
          <Loom
            loom={loom.data}
            shown={lit}
            label="Patch loom"
            onFocus={setFocus}
            onJoin={(from, to, count) => join({ from, to, count })}
          />
        )}
        {loom.data && face === "table" && <LoomTable loom={loom.data} />}
      </Box>
      <ThreadSentence
        sentence={focus ? trace.data?.sentence : undefined}
        rest="Point at any place to follow its thread. Drag a thread from place to place, or click both ends; ? lists the keys."
      />
    </>
  );
}
