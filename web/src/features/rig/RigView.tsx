import { Alert, Box, Button } from "@mui/material";
import { useState } from "react";
import { useCableForecast, useRig, useShowCommand } from "../../api/queries";
import { StepHead } from "../../ui/StepHead";
import { ThreadSentence } from "../../ui/ThreadSentence";
import { AddGear } from "./AddGear";
import { CablePanel } from "./CablePanel";
import { DevicePanel } from "./DevicePanel";
import { GearMap } from "./GearMap";
import { Profiles } from "./Profiles";
import { RigPanel } from "./RigPanel";
import { ShowFile } from "./ShowFile";

/** The gear and what joins it, in the order in which the signal travels. */
export function RigView({ lit }: { lit: string[] }) {
  const rig = useRig();
  const [chosen, setChosen] = useState<string | null>(null);
  const [aim, setAim] = useState<{ a: string; b: string } | null>(null);
  const [wholeOpen, setWholeOpen] = useState(false);
  const forecast = useCableForecast(aim);
  const edit = useShowCommand("edits");
  const device = rig.data?.devices.find(({ id }) => id === chosen);
  const cable = rig.data?.cables.find(({ id }) => id === chosen);
  const lay = (a: string, b: string) => edit({ label: "Lay a cable", edit: { kind: "cable", a, b } });
  return (
    <>
      <StepHead title="Rig">
        {rig.data && <AddGear rig={rig.data} />}
        {rig.data && <Profiles rig={rig.data} />}
        <Button size="small" variant={wholeOpen ? "contained" : "outlined"} color="inherit" onClick={() => setWholeOpen((open) => !open)}>
          Clock, rate, cables
        </Button>
        <Box sx={{ flex: 1 }} />
        <ShowFile />
      </StepHead>
      {rig.error && <Alert severity="error">{rig.error.message}</Alert>}
      {rig.data && (
        <Box sx={{ flex: 1, minHeight: 0, display: "flex", position: "relative", mx: 2 }}>
          <Box sx={{ flex: 1, minWidth: 0, position: "relative" }}>
            {rig.data.devices.length === 0 && (
              <Alert severity="info">There is no gear yet. Add a desk, then what is plugged into it; or make a show from a template.</Alert>
            )}
            <GearMap rig={rig.data} lit={lit} chosen={chosen} onChoose={setChosen} onAim={setAim} onLay={lay} />
          </Box>
          {(device || cable || wholeOpen) && (
            <Box
              component="section"
              aria-label="Settings"
              sx={{
                position: "absolute",
                right: 0,
                top: 0,
                bottom: 0,
                width: 258,
                overflow: "auto",
                bgcolor: "background.paper",
                borderLeft: 1,
                borderColor: "divider",
                p: 1.5,
              }}
            >
              {device ? (
                <DevicePanel key={device.id} rig={rig.data} device={device} onClose={() => setChosen(null)} />
              ) : cable ? (
                <CablePanel key={cable.id} rig={rig.data} cable={cable} onClose={() => setChosen(null)} />
              ) : (
                <RigPanel rig={rig.data} onAim={setAim} onLay={lay} />
              )}
            </Box>
          )}
        </Box>
      )}
      <ThreadSentence
        sentence={aim ? forecast.data?.sentence : undefined}
        broken={aim !== null && forecast.data?.fits === false}
        rest="Drag from port to port to lay a cable; what it would do is said here before you drop it. Click a card or a cable for its settings."
      />
    </>
  );
}
