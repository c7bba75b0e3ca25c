import Close from "@mui/icons-material/Close";
import { Alert, Box, Button, IconButton } from "@mui/material";
import { useState } from "react";
import type { Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useCableForecast } from "../../api/patch";
import { BottomSheet } from "../../ui/BottomSheet";
import { useWantsRoom } from "../../ui/room";
import { StepHead } from "../../ui/StepHead";
import { ThreadSentence } from "../../ui/ThreadSentence";
import { useWidth } from "../../ui/useWidth";
import { AddGear } from "./AddGear";
import { CablePanel } from "./CablePanel";
import { DevicePanel } from "./DevicePanel";
import { GearMap } from "./GearMap";
import { Profiles } from "./Profiles";
import { RigPanel } from "./RigPanel";
import { ShowFile } from "./ShowFile";

/** The map with what adds to it and sets it. */
export function RigBench({ rig, lit }: { rig: Rig; lit: string[] }) {
  const beside = useWidth() === "desk";
  const [chosen, setChosen] = useState<string | null>(null);
  const [aim, setAim] = useState<{ a: string; b: string } | null>(null);
  const [wholeOpen, setWholeOpen] = useState(false);
  const forecast = useCableForecast(aim);
  const edit = useShowCommand("edits");
  const device = rig.devices.find(({ id }) => id === chosen);
  const cable = rig.cables.find(({ id }) => id === chosen);
  const lay = (a: string, b: string) => edit({ label: "Lay a cable", edit: { kind: "cable", a, b } });
  const close = () => {
    setChosen(null);
    setWholeOpen(false);
  };
  const settings = device ? (
    <DevicePanel key={device.id} rig={rig} device={device} onClose={close} />
  ) : cable ? (
    <CablePanel key={cable.id} rig={rig} cable={cable} onClose={close} />
  ) : wholeOpen ? (
    <RigPanel rig={rig} onAim={setAim} onLay={lay} />
  ) : null;
  useWantsRoom(beside && (device !== undefined || cable !== undefined));
  return (
    <>
      <StepHead title="Rig">
        <AddGear rig={rig} />
        <Profiles rig={rig} />
        <Button
          size="small"
          variant={wholeOpen ? "contained" : "outlined"}
          color="inherit"
          onClick={() => {
            setChosen(null);
            setWholeOpen((open) => !open);
          }}
        >
          Clock, rate, cables
        </Button>
        <Box sx={{ flex: 1 }} />
        <ShowFile />
      </StepHead>
      <Box sx={{ flex: 1, minHeight: 0, display: "flex", mx: 2 }}>
        <Box sx={{ flex: 1, minWidth: 0, position: "relative" }}>
          {rig.devices.length === 0 && (
            <Alert severity="info">There is no gear yet. Add a desk, then what is plugged into it; or make a show from a template.</Alert>
          )}
          <GearMap rig={rig} lit={lit} chosen={chosen} onChoose={setChosen} onAim={setAim} onLay={lay} />
        </Box>
        {beside && settings && (
          <Box
            component="section"
            aria-label="Settings"
            sx={{ width: 270, flexShrink: 0, overflow: "auto", bgcolor: "background.paper", borderLeft: 1, borderColor: "divider", p: 1.5 }}
          >
            <CloseSettings onClose={close} />
            {settings}
          </Box>
        )}
      </Box>
      {!beside && (
        <BottomSheet title="Settings" open={settings !== null} onClose={close}>
          {settings}
        </BottomSheet>
      )}
      <ThreadSentence
        sentence={aim ? forecast.data?.sentence : undefined}
        broken={aim !== null && forecast.data?.fits === false}
        rest="Drag from port to port to lay a cable; what it would do is said here before you drop it. Click a card or a cable for its settings."
      />
    </>
  );
}

/** Floats at the panel's corner, so that its heading keeps its line. */
const CloseSettings = ({ onClose }: { onClose: () => void }) => (
  <IconButton size="small" aria-label="Close settings" onClick={onClose} sx={{ float: "right", mt: -0.75, mr: -0.75 }}>
    <Close fontSize="small" />
  </IconButton>
);
