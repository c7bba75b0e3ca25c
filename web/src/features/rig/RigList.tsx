import { Box, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Device, Finding, Rig } from "../../api/client";
import { useShow } from "../../api/show";
import { clockWords, lanesText, nameOf, portName } from "../../model/rig";
import { FoundLine } from "../../ui/findings/FoundLine";

/** The gear where there is no room for its map, or nobody may change it: each piece with its clock, its cables and what is found at it. */
export function RigList({ rig, lit }: { rig: Rig; lit: string[] }) {
  const [open, setOpen] = useState<string | null>(null);
  const findings = useShow().data?.findings.filter(({ accepted }) => !accepted) ?? [];
  // What a finding shows is opened where it stands.
  useEffect(() => {
    const shown = rig.devices.find(({ id }) => lit.some((one) => isAt(one, id)));
    if (shown) setOpen(shown.id);
  }, [lit, rig]);
  return (
    <Box role="list" aria-label="Gear" sx={{ flex: 1, overflow: "auto", px: 1.25, pb: 1 }}>
      {rig.devices.length === 0 && <Typography color="text.secondary">There is no gear yet. It is added at a wider screen.</Typography>}
      {rig.devices.map((device) => (
        <DeviceLine
          key={device.id}
          rig={rig}
          device={device}
          findings={findings.filter(({ endpoints }) => endpoints.some((one) => isAt(one, device.id)))}
          open={open === device.id}
          onOpen={() => setOpen(open === device.id ? null : device.id)}
        />
      ))}
    </Box>
  );
}

const isAt = (endpoint: string, device: string) => endpoint === device || endpoint.startsWith(`${device}/`);

interface Props {
  rig: Rig;
  device: Device;
  findings: Finding[];
  open: boolean;
  onOpen: () => void;
}

function DeviceLine({ rig, device, findings, open, onOpen }: Props) {
  const way = rig.clock.ways[device.id];
  return (
    <Box role="listitem" data-gear={device.id} sx={{ borderBottom: 1, borderColor: "divider" }}>
      <FoundLine
        findings={findings}
        open={open}
        onOpen={onOpen}
        head={
          <Box sx={{ minWidth: 0, py: 0.75 }}>
            <Box sx={{ fontWeight: 700 }}>{device.name}</Box>
            <Box sx={{ color: device.rate_hz === null || device.clock_arrives ? "text.secondary" : "error.main", fontSize: 13 }}>
              {[device.profile_label, clockWords(device)].filter(Boolean).join(" · ")}
            </Box>
          </Box>
        }
      >
        {way && way.length > 1 && <Box sx={{ mb: 0.5 }}>Clock: {way.map((id) => nameOf(rig, id)).join(" ← ")}</Box>}
        {device.ports.map((port) => (
          <PortLine
            key={port.name}
            rig={rig}
            end={`${device.id}/${port.name}`}
            name={port.label}
            mode={port.modes.length > 1 ? port.mode : ""}
          />
        ))}
        {rig.plugs
          .filter(({ from, to }) => from === device.id || to === device.id)
          .map(({ from, to }) => (
            <Box key={`${from}>${to}`} sx={{ color: "text.secondary" }}>
              {from === device.id ? `${nameOf(rig, to)} is plugged in here` : `plugged in at ${nameOf(rig, from)}`}
            </Box>
          ))}
      </FoundLine>
    </Box>
  );
}

/** Where a port's cable leads, with its lanes. */
function PortLine({ rig, end, name, mode }: { rig: Rig; end: string; name: string; mode: string }) {
  const cable = rig.cables.find(({ a, b }) => a === end || b === end);
  return (
    <Box sx={{ color: cable ? "text.primary" : "text.secondary", mb: 0.25 }}>
      {name}
      {mode && ` (${mode})`}:{" "}
      {cable ? `to ${portName(rig, cable.a === end ? cable.b : cable.a)}, ${lanesText(cable)} lanes, ${cable.length_m} m` : "no cable"}
    </Box>
  );
}
