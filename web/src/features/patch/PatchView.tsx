import { Box, Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { Suspense, useEffect, useState } from "react";
import type { Edit } from "../../api/client";
import { useMay } from "../../api/may";
import { useShow } from "../../api/show";
import { type Face, faceFor, isLoom, loomName } from "../../model/patchFaces";
import { later } from "../../ui/later";
import { StepHead } from "../../ui/StepHead";
import { UndoRedo } from "../../ui/UndoRedo";
import { useWidth } from "../../ui/useWidth";
import { DeskChoice, useDeskChoice } from "./DeskChoice";
import { PlaceList } from "./PlaceList";

const FieldSheet = later(() => import("./FieldSheet").then((part) => part.FieldSheet), { wide: true });
const HistoryDialog = later(() => import("./HistoryDialog").then((part) => part.HistoryDialog), { wide: true });
const LoomFace = later(() => import("./LoomFace").then((part) => part.LoomFace), { wide: true });
const ScenesDialog = later(() => import("./ScenesDialog").then((part) => part.ScenesDialog), { wide: true });
const SheetView = later(() => import("./SheetView").then((part) => part.SheetView), { wide: true });

/** The patch, seen as a loom of threads, as the input list, or field by field as a table; on a phone as a list of places. */
export function PatchView({ lit }: { lit: string[] }) {
  const show = useShow();
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const [face, setFace] = useState<Face>("patch");
  const { desk, desks, setDesk } = useDeskChoice(lit);
  const [field, setField] = useState<string | null>(null);
  const [runsOpen, setRunsOpen] = useState(false);
  /** An edit that the loom shows and nobody has made yet: a run, a scene. */
  const [shown, setShown] = useState<Edit | null>(null);
  // What a finding shows is looked at where it can be seen.
  useEffect(() => {
    if (lit.length > 0) setFace((now) => (isLoom(now) ? faceFor(lit) : now));
  }, [lit]);
  // Tables are for writing: where nobody may, or there is no room, the looms are left.
  const faceShown = phone || !operates ? (isLoom(face) ? face : "patch") : face;
  const loom = loomName(faceShown, desk, desks.length);
  return (
    <>
      <StepHead title="Patch">
        <ToggleButtonGroup
          size="small"
          exclusive
          value={faceShown}
          onChange={(_, value: Face | null) => value && setFace(value)}
          aria-label="What is shown"
        >
          <ToggleButton value="patch">{phone ? "Inputs" : "Loom"}</ToggleButton>
          <ToggleButton value="mixes">Mixes</ToggleButton>
          {operates && !phone && <ToggleButton value="sheet">Input list</ToggleButton>}
          {operates && !phone && <ToggleButton value="table">Table</ToggleButton>}
        </ToggleButtonGroup>
        {operates && !phone && (
          <>
            {isLoom(face) && (
              <Button
                size="small"
                variant={runsOpen ? "contained" : "outlined"}
                color="inherit"
                onClick={() => setRunsOpen((open) => !open)}
              >
                Many at once
              </Button>
            )}
            <Suspense>
              <ScenesDialog
                onShow={(edit) => {
                  setFace("patch");
                  setRunsOpen(false);
                  setShown(edit);
                }}
              />
              <HistoryDialog />
            </Suspense>
          </>
        )}
        {operates && <UndoRedo />}
      </StepHead>
      {isLoom(faceShown) && <DeskChoice desk={desk} desks={desks} onDesk={setDesk} />}
      <Suspense>
        {phone ? (
          <PlaceList key={loom} loom={loom} lit={lit} />
        ) : isLoom(faceShown) ? (
          <LoomFace
            key={loom}
            loom={loom}
            desk={desk}
            lit={lit}
            shown={shown}
            onShown={setShown}
            runsOpen={runsOpen}
            label={faceShown === "patch" ? "Patch loom" : "Mixes loom"}
          />
        ) : (
          <Box sx={{ flex: 1, minHeight: 0, px: 2, pb: 1.5 }}>
            {show.data && face === "sheet" && <SheetView show={show.data} lit={lit} />}
            {face === "table" && <FieldSheet field={field ?? `${desk}/channel`} onField={setField} lit={lit} />}
          </Box>
        )}
      </Suspense>
    </>
  );
}
