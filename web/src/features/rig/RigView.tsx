import { Alert, Box, Typography } from "@mui/material";
import type { Rig } from "../../api/client";
import { useRig } from "../../api/queries";
import { StepHead } from "../../ui/StepHead";
import { ShowFile } from "./ShowFile";

const columns = [
  { kind: "box", title: "On stage" },
  { kind: "desk", title: "Desk" },
  { kind: "computer", title: "Computer" },
  { kind: "listener", title: "Who listens" },
];

/** The gear and what joins it, in the order in which the signal travels. */
export function RigView() {
  const rig = useRig();
  return (
    <>
      <StepHead title="Rig" hint="The gear of this show, in the order in which the signal travels, and the cables between.">
        <ShowFile />
      </StepHead>
      {rig.error && <Alert severity="error">{rig.error.message}</Alert>}
      {rig.data && (
        <Box sx={{ flex: 1, overflow: "auto", px: 2, pb: 2 }}>
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, minmax(170px, 1fr))", gap: 2 }}>
            {columns.map((column) => (
              <Box key={column.kind}>
                <Typography component="h3" color="text.secondary" sx={{ fontSize: 13, fontWeight: 700, mb: 1 }}>
                  {column.title}
                </Typography>
                {rig.data.devices
                  .filter((device) => device.kind === column.kind)
                  .map((device) => (
                    <DeviceCard key={device.id} device={device} rig={rig.data} />
                  ))}
              </Box>
            ))}
          </Box>
          <Typography component="h3" sx={{ fontWeight: 700, mt: 2, mb: 1 }}>
            Cables
          </Typography>
          {rig.data.cables.map((cable) => (
            <CableLine key={cable.a + cable.b} cable={cable} rig={rig.data} />
          ))}
        </Box>
      )}
    </>
  );
}

const hears = { audience: "audience", performers: "performers", crew: "crew" };

function DeviceCard({ device, rig }: { device: Rig["devices"][number]; rig: Rig }) {
  const fedBy = rig.plugs.filter((plug) => plug.to === device.id).map((plug) => nameOf(rig, plug.from));
  return (
    <Box
      sx={{
        bgcolor: "background.paper",
        border: 1,
        borderColor: device.clock === "leader" ? "primary.main" : "divider",
        borderRadius: 1,
        p: 1.25,
        mb: 1.25,
      }}
    >
      <Typography sx={{ fontWeight: 700 }}>{device.name}</Typography>
      <Typography color="text.secondary" sx={{ fontSize: 13 }}>
        {device.profile}
      </Typography>
      {device.audience && <Typography sx={{ fontSize: 13 }}>heard by the {hears[device.audience as keyof typeof hears]}</Typography>}
      {fedBy.length > 0 && (
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          plugged in at {fedBy.join(", ")}
        </Typography>
      )}
      {device.rate_hz !== null && (
        <Typography sx={{ fontSize: 13 }}>
          {device.rate_hz / 1000} kHz, {device.clock === "leader" ? <strong>leads the clock</strong> : `follows through ${device.clock}`}
        </Typography>
      )}
      {device.kind !== "listener" &&
        device.places.map((place) => (
          <Typography key={place.label} color="text.secondary" sx={{ fontSize: 12.5, display: "flex", justifyContent: "space-between" }}>
            <span>{place.label}</span>
            <span>{place.count}</span>
          </Typography>
        ))}
    </Box>
  );
}

function CableLine({ cable, rig }: { cable: Rig["cables"][number]; rig: Rig }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 2fr 1fr", alignItems: "center", gap: 2, maxWidth: 760, mb: 1 }}>
      <span style={{ textAlign: "right" }}>{portName(rig, cable.a)}</span>
      <Box sx={{ borderTop: 3, borderColor: "primary.main", textAlign: "center", fontSize: 13, color: "text.secondary", pt: 0.25 }}>
        {cable.standard}
        {cable.kind === cable.standard ? "" : ` on ${cable.kind}`}, {cable.length_m} m: {cable.used} lanes in use both ways together,{" "}
        {cable.lanes} there each way
      </Box>
      <span>{portName(rig, cable.b)}</span>
    </Box>
  );
}

const nameOf = (rig: Rig, id: string) => rig.devices.find((device) => device.id === id)?.name ?? id;
const portName = (rig: Rig, end: string) => `${nameOf(rig, end.split("/")[0] ?? "")}, ${end.split("/")[1]}`;
