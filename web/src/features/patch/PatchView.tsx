import RedoIcon from "@mui/icons-material/Redo";
import UndoIcon from "@mui/icons-material/Undo";
import { Box, Button, IconButton, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Edit } from "../../api/client";
import { useShow, useShowCommand } from "../../api/queries";
import { deskFor, type Face, faceFor, isLoom, loomName } from "../../model/patchFaces";
import { StepHead } from "../../ui/StepHead";
import { FieldSheet } from "./FieldSheet";
import { HistoryDialog } from "./HistoryDialog";
import { LoomFace } from "./LoomFace";
import { ScenesDialog } from "./ScenesDialog";
import { SheetView } from "./SheetView";

/** The patch, seen as a loom of threads, as the input list, or field by field as a table. */
export function PatchView({ lit }: { lit: string[] }) {
  const show = useShow();
  const desks = show.data?.desks ?? [];
  const desksNow = useRef(desks);
  desksNow.current = desks;
  const [face, setFace] = useState<Face>("patch");
  const [chosenDesk, setChosenDesk] = useState<string | null>(null);
  const desk = desks.find(({ id }) => id === chosenDesk)?.id ?? desks[0]?.id ?? null;
  const loom = loomName(face, desk, desks.length);
  const [field, setField] = useState<string | null>(null);
  const [runsOpen, setRunsOpen] = useState(false);
  /** An edit that the loom shows and nobody has made yet: a run, a scene. */
  const [shown, setShown] = useState<Edit | null>(null);
  // What a finding shows is looked at where it can be seen.
  useEffect(() => {
    if (lit.length === 0) return;
    setFace((now) => (isLoom(now) ? faceFor(lit) : now));
    setChosenDesk((now) => deskFor(lit, desksNow.current) ?? now);
  }, [lit]);
  const undo = useShowCommand("undo");
  const redo = useShowCommand("redo");
  return (
    <>
      <StepHead title="Patch">
        <ToggleButtonGroup size="small" exclusive value={face} onChange={(_, value: Face | null) => value && setFace(value)}>
          <ToggleButton value="patch">Loom</ToggleButton>
          <ToggleButton value="mixes">Mixes</ToggleButton>
          <ToggleButton value="outputs">Outputs</ToggleButton>
          <ToggleButton value="sheet">Input list</ToggleButton>
          <ToggleButton value="table">Table</ToggleButton>
        </ToggleButtonGroup>
        {isLoom(face) && (
          <Button size="small" variant={runsOpen ? "contained" : "outlined"} color="inherit" onClick={() => setRunsOpen((open) => !open)}>
            Runs
          </Button>
        )}
        <ScenesDialog
          onShow={(edit) => {
            setFace("patch");
            setRunsOpen(false);
            setShown(edit);
          }}
        />
        <HistoryDialog />
        <Box sx={{ flex: 1 }} />
        <Box sx={{ display: "flex" }}>
          <Turn label="Undo" what={show.data?.undo} onTurn={() => undo({})} />
          <Turn label="Redo" what={show.data?.redo} onTurn={() => redo({})} />
        </Box>
      </StepHead>
      {desks.length > 1 && isLoom(face) && (
        <ToggleButtonGroup
          size="small"
          exclusive
          value={desk}
          aria-label="Desk"
          sx={{ px: 2 }}
          onChange={(_, value: string | null) => value && setChosenDesk(value)}
        >
          {desks.map((one) => (
            <ToggleButton key={one.id} value={one.id}>
              {one.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      {isLoom(face) ? (
        <LoomFace
          key={loom}
          loom={loom}
          desk={desk}
          lit={lit}
          shown={shown}
          onShown={setShown}
          runsOpen={runsOpen}
          label={face === "patch" ? "Patch loom" : face === "mixes" ? "Mixes loom" : "Outputs loom"}
        />
      ) : (
        <Box sx={{ flex: 1, minHeight: 0, px: 2, pb: 1.5 }}>
          {show.data && face === "sheet" && <SheetView show={show.data} lit={lit} />}
          {face === "table" && <FieldSheet field={field ?? `${desk}/channel`} onField={setField} lit={lit} />}
        </Box>
      )}
    </>
  );
}

/** Undo or redo, with what it would take back said where one points. */
function Turn({ label, what, onTurn }: { label: "Undo" | "Redo"; what?: string | null; onTurn: () => void }) {
  return (
    <span title={what ? `${label}: ${what}` : `Nothing of yours to ${label.toLowerCase()}`}>
      <IconButton aria-label={label} size="small" color="primary" disabled={!what} onClick={onTurn}>
        {label === "Undo" ? <UndoIcon fontSize="small" /> : <RedoIcon fontSize="small" />}
      </IconButton>
    </span>
  );
}
