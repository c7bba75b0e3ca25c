import { Box, Button, Typography } from "@mui/material";
import type { Device, EditOf, Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { nameOf } from "../../model/rig";
import { AudioDevicePanel } from "./AudioDevicePanel";
import { Choice, KeptText } from "./fields";

/** One piece of gear: its name, its clock, the modes of its ports, its settings. */
export function DevicePanel({ rig, device, onClose }: { rig: Rig; device: Device; onClose: () => void }) {
  const edit = useShowCommand("edits");
  const remove = useShowCommand("edits", onClose);
  const change = (fields: Partial<EditOf<"device">>) =>
    edit({ label: `Settings of ${device.name}`, edit: { kind: "device", id: device.id, ...fields } });
  const digital = device.ports.filter((port) => port.digital);
  const clocks = [
    { value: "leader", label: "leads the clock" },
    ...digital.map((port) => ({ value: port.name, label: `follows through ${port.label}` })),
    { value: "", label: "neither" },
  ];
  return (
    <>
      <Typography component="h3" variant="h2">
        {device.name}
      </Typography>
      <Typography color="text.secondary" sx={{ fontSize: 13, mb: 1 }}>
        {device.profile_label}
      </Typography>
      <KeptText label="Name" value={device.name} onKeep={(name) => change({ name })} />
      {device.rate_hz !== null && (
        <>
          <Choice label="Clock" value={device.clock ?? ""} options={clocks} onChoose={(clock) => change({ clock: clock || null })} />
          <Choice
            label="Sample rate"
            value={String(device.rate_hz)}
            options={rig.rates_hz.map((rate) => ({ value: String(rate), label: `${rate / 1000} kHz` }))}
            onChoose={(rate) => change({ rate_hz: Number(rate) })}
          />
          <Typography color="text.secondary" sx={{ fontSize: 12.5, my: 0.5 }}>
            {rig.clock.ways[device.id]
              ? `Clock: ${rig.clock.ways[device.id]?.map((id) => nameOf(rig, id)).join(" ← ")}`
              : "No clock arrives here."}
          </Typography>
        </>
      )}
      {device.ports
        .filter((port) => port.modes.length > 1)
        .map((port) => (
          <Choice
            key={port.name}
            label={`Mode of ${port.label}`}
            value={port.mode}
            options={port.modes.map((mode) => ({ value: mode, label: mode }))}
            onChoose={(mode) => change({ modes: { [port.name]: mode } })}
          />
        ))}
      {device.settings.map((setting) => (
        <Choice
          key={setting.name}
          label={setting.label}
          value={String(setting.value)}
          options={setting.choices.map((choice) => ({ value: String(choice), label: String(choice) }))}
          onChoose={(choice) => change({ settings: { [setting.name]: Number(choice) } })}
        />
      ))}
      {device.kind === "computer" && <AudioDevicePanel />}
      <Box sx={{ my: 1.5 }}>
        {device.places.map((place) => (
          <Typography key={place.label} color="text.secondary" sx={{ fontSize: 12.5, display: "flex", justifyContent: "space-between" }}>
            <span>{device.audience ? "inputs" : place.label}</span>
            <span>{place.count}</span>
          </Typography>
        ))}
      </Box>
      <Button
        size="small"
        color="error"
        variant="outlined"
        onClick={() => remove({ label: `Take out ${device.name}`, edit: { kind: "remove_device", id: device.id } })}
      >
        Take it out, with its cables and patch
      </Button>
    </>
  );
}
