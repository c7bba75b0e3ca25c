import { Alert, Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useRateForecast } from "../../api/patch";
import { portName } from "../../model/rig";
import { Choice } from "./fields";

interface Props {
  rig: Rig;
  onAim: (ends: { a: string; b: string } | null) => void;
  onLay: (a: string, b: string) => void;
}

/** What concerns the whole rig: its clock, its sample rate, and cables laid without a mouse. */
export function RigPanel({ rig, onAim, onLay }: Props) {
  return (
    <>
      <Typography component="h3" variant="h2" sx={{ mb: 0.5 }}>
        Clock
      </Typography>
      {rig.clock.leaders.length !== 1 && (
        <Alert severity="error" sx={{ fontSize: 12.5, py: 0 }}>
          {rig.clock.leaders.length === 0 ? "Nobody leads the clock." : `${rig.clock.leaders.join(" and ")} lead the clock: only one may.`}
        </Alert>
      )}
      {rig.clock.faults.length === 0
        ? rig.clock.leaders.length === 1 && (
            <Typography sx={{ fontSize: 13 }}>Every digital device follows {rig.clock.leaders[0]}.</Typography>
          )
        : rig.clock.faults.map((fault) => (
            <Alert key={fault} severity="error" sx={{ fontSize: 12.5, py: 0 }}>
              {fault}
            </Alert>
          ))}
      <SampleRate rig={rig} />
      <LayCable rig={rig} onAim={onAim} onLay={onLay} />
    </>
  );
}

/** What another rate would cost, before it is chosen. */
function SampleRate({ rig }: { rig: Rig }) {
  const [rate, setRate] = useState(rig.sample_rate_hz);
  const forecast = useRateForecast(rate === rig.sample_rate_hz ? null : rate);
  const edit = useShowCommand("edits");
  const lost = forecast.data?.sources_lost ?? [];
  return (
    <Box sx={{ mt: 2 }}>
      <Typography component="h3" variant="h2">
        Sample rate
      </Typography>
      <Choice
        label="What if it ran at"
        value={String(rate)}
        options={rig.rates_hz.map((one) => ({
          value: String(one),
          label: `${one / 1000} kHz${one === rig.sample_rate_hz ? ", as now" : ""}`,
        }))}
        onChoose={(value) => setRate(Number(value))}
      />
      {forecast.data && rate !== rig.sample_rate_hz && (
        <>
          {forecast.data.links.map((link) => (
            <Typography key={link.cable} sx={{ fontSize: 12.5 }}>
              {link.cable
                .split("~")
                .map((end) => portName(rig, end))
                .join(" to ")}
              : {link.lanes_then} lanes, now {link.lanes_now}
            </Typography>
          ))}
          <Alert severity={lost.length > 0 ? "error" : "success"} sx={{ fontSize: 12.5, py: 0, my: 0.5 }}>
            {lost.length > 0 ? `Would be lost: ${lost.join(", ")}.` : "Nothing that is patched would be lost."}
          </Alert>
          <Button
            size="small"
            variant="outlined"
            color={lost.length > 0 ? "error" : "primary"}
            onClick={() => edit({ label: `Run at ${rate / 1000} kHz`, edit: { kind: "show_rate", rate_hz: rate } })}
          >
            Run all at {rate / 1000} kHz
          </Button>
        </>
      )}
    </Box>
  );
}

/** The same as dragging from port to port, for keyboards. */
function LayCable({ rig, onAim, onLay }: Props) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const ports = rig.devices.flatMap((device) =>
    device.ports.map((port) => ({ value: `${device.id}/${port.name}`, label: `${device.name}, ${port.label}`, standard: port.standard })),
  );
  const standard = ports.find((port) => port.value === from)?.standard;
  const fitting = ports.filter(
    (port) =>
      port.value.split("/")[0] !== from.split("/")[0] &&
      (!standard || port.standard === standard || [port.standard, standard].every((one) => one.includes("line"))),
  );
  const choose = (a: string, b: string) => {
    setFrom(a);
    setTo(b);
    onAim(a && b ? { a, b } : null);
  };
  return (
    <Box sx={{ mt: 2 }}>
      <Typography component="h3" variant="h2">
        Lay a cable
      </Typography>
      <Choice label="From port" value={from} options={ports} onChoose={(a) => choose(a, "")} />
      <Choice label="To port" value={to} options={fitting} onChoose={(b) => choose(from, b)} />
      <Button
        size="small"
        variant="contained"
        disabled={!from || !to}
        onClick={() => {
          onLay(from, to);
          choose("", "");
        }}
      >
        Lay this cable
      </Button>
    </Box>
  );
}
