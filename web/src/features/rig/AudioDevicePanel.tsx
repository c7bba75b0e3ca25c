import { Alert, Box, Button, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, type AudioDevice, api } from "../../api/client";
import { useMachine } from "../../api/live";
import { useDevices, useDeviceTerms } from "../../api/machine";
import { useShow } from "../../api/show";
import { BLOCKS_FRAMES, type DeviceWish, kilohertz, lanesOf, lossCount, lossWords, stateWords, wishFor } from "../../model/audioDevice";
import { May } from "../../ui/May";
import { useNotice } from "../../ui/notice";
import { Choice } from "./fields";

/** What the recording computer records from: which device, at what rate and block, and what is on its lanes. */
export function AudioDevicePanel() {
  const devices = useDevices(true);
  const openRate = useMachine((frame) => frame.engine?.device.rate_hz ?? 0);
  const openBlock = useMachine((frame) => frame.engine?.device.block_frames ?? 0);
  const openLanes = useMachine((frame) => frame.engine?.device.lanes ?? 0);
  const [wish, setWish] = useState<DeviceWish | null>(null);
  const { choose, pending } = useChoose(() => setWish(null));
  const chosen = devices.data?.find((device) => device.id === wish?.id) ?? devices.data?.find((device) => device.chosen);
  const open = openRate && openBlock ? { rate_hz: openRate, block_frames: openBlock } : null;
  const shown = wish ?? (chosen && open ? { ...wishFor(chosen, open), ...(chosen.chosen ? open : {}) } : null);
  const fixed = chosen?.kind === "standin";
  const terms = useDeviceTerms(
    chosen && shown ? { rate_hz: shown.rate_hz, block_frames: shown.block_frames, lanes_in: fixed ? openLanes : lanesOf(chosen) } : null,
  );
  return (
    <Box component="section" aria-label="Audio device" sx={{ borderTop: 1, borderColor: "divider", mt: 1.5, pt: 1 }}>
      <Typography component="h4" sx={{ fontWeight: 600, fontSize: 14 }}>
        Audio device
      </Typography>
      <State />
      {devices.error && <Alert severity="warning">{devices.error.message}</Alert>}
      {devices.data && (
        <Choice
          label="Records from and plays to"
          value={chosen?.id ?? ""}
          options={devices.data.map((device) => ({ value: device.id, label: optionOf(device) }))}
          onChoose={(id) => {
            const device = devices.data?.find((one) => one.id === id);
            if (device) setWish(wishFor(device, open));
          }}
        />
      )}
      {devices.data?.length === 1 && (
        <Typography color="text.secondary" sx={{ fontSize: 12.5 }}>
          No other audio device is plugged in here.
        </Typography>
      )}
      {chosen?.fault && <Alert severity="error">{chosen.fault}</Alert>}
      {chosen && shown && !fixed && (
        <>
          <Choice
            label="Rate"
            value={String(shown.rate_hz)}
            options={[...new Set([...(chosen.rates_hz ?? []), shown.rate_hz])].map((rate) => ({
              value: String(rate),
              label: kilohertz(rate),
            }))}
            onChoose={(rate) => setWish({ ...shown, rate_hz: Number(rate) })}
          />
          <Choice
            label="Block"
            value={String(shown.block_frames)}
            options={[...new Set([...BLOCKS_FRAMES, shown.block_frames])]
              .sort((a, b) => a - b)
              .map((frames) => ({ value: String(frames), label: `${frames} frames, ${((frames / shown.rate_hz) * 1000).toFixed(1)} ms` }))}
            onChoose={(frames) => setWish({ ...shown, block_frames: Number(frames) })}
          />
        </>
      )}
      {terms.data?.warns.map((words) => (
        <Alert key={words} severity="warning" sx={{ my: 0.5, fontSize: 12.5 }}>
          {words}
        </Alert>
      ))}
      {terms.data?.says.map((words) => (
        <Typography key={words} color="text.secondary" sx={{ fontSize: 12.5 }}>
          {words}
        </Typography>
      ))}
      {wish && (
        <Box sx={{ display: "flex", gap: 1, my: 1 }}>
          <May what="lead">
            <Button size="small" variant="contained" disabled={pending} onClick={() => choose(wish)}>
              Open it
            </Button>
          </May>
          <Button size="small" color="inherit" onClick={() => setWish(null)}>
            Leave it
          </Button>
        </Box>
      )}
      <Lanes />
    </Box>
  );
}

const optionOf = ({ label, lanes_in, lanes_out, fault }: AudioDevice): string =>
  fault
    ? `${label}: not usable`
    : lanes_in === undefined && lanes_out === undefined
      ? label
      : `${label}, ${lanes_in ?? 0} in, ${lanes_out ?? 0} out`;

/** What is open, and what was lost so far and where. */
function State() {
  const running = useMachine((frame) => frame.engine?.device.state === "running");
  const open = useMachine(({ engine }) => (engine ? stateWords(engine.device) : "The engine does not answer."));
  const losses = useMachine(({ engine }) => (engine ? lossWords(engine.device) : ""));
  const lost = useMachine(({ engine }) => engine !== null && lossCount(engine.device) > 0);
  return (
    <>
      <Typography color={running ? "text.secondary" : "error.main"} sx={{ fontSize: 12.5 }}>
        {open}
      </Typography>
      <Typography color={lost ? "warning.main" : "text.secondary"} sx={{ fontSize: 12.5 }}>
        {losses}
      </Typography>
    </>
  );
}

/** Which lanes are used, and by what. */
function Lanes() {
  const tracks = (useShow().data?.tracks ?? []).filter((track) => track.lane !== null).sort((a, b) => (a.lane ?? 0) - (b.lane ?? 0));
  if (tracks.length === 0)
    return (
      <Typography color="text.secondary" sx={{ fontSize: 12.5, mt: 1 }}>
        No track is patched to a lane of it yet.
      </Typography>
    );
  return (
    <Box component="ul" aria-label="Lanes in use" sx={{ listStyle: "none", p: 0, m: 0, mt: 1, fontSize: 12.5 }}>
      {tracks.map((track) => (
        <Box component="li" key={track.id} sx={{ display: "flex", gap: 1 }}>
          <Box component="span" sx={{ width: 44, flexShrink: 0 }}>
            lane {track.lane}
          </Box>
          <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
            {track.name}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

/** Opens another device; a running take is asked for first. */
function useChoose(done: () => void) {
  const { say, ask } = useNotice();
  const client = useQueryClient();
  const command = useMutation({
    mutationFn: ({ wish, sure }: { wish: DeviceWish; sure: boolean }) =>
      api.put("/api/device", { device: wish, ...(sure ? { during_take: true } : {}) }),
    onSuccess: () => {
      done();
      client.invalidateQueries({ queryKey: ["devices"] });
      client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === "show" && queryKey[2] === "device-terms" });
    },
    onError: (error, { wish }) => {
      if (error instanceof ApiError && error.status === 409 && error.field === "during_take")
        return ask({ title: "A take is running", text: error.message, yes: "Do it all the same" }, () =>
          command.mutate({ wish, sure: true }),
        );
      say(error.message, "error");
    },
  });
  return { choose: (wish: DeviceWish) => command.mutate({ wish, sure: false }), pending: command.isPending };
}
