import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Session } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { usePlaces, useSession } from "../../api/machine";
import { useShowId, useShowPath } from "../../api/openShow";
import { useRig } from "../../api/patch";
import { useShow } from "../../api/show";
import { useNotice } from "../../ui/notice";

const gigabytes = (bytes: number | null) => (bytes === null ? "room not known" : `${Math.round(bytes / 1e9)} GB free`);

/** How takes are recorded: depth, seconds from before, a second copy, what happens after a fault. */
export function SessionDialog({ held }: { held: boolean }) {
  const [open, setOpen] = useState(false);
  const session = useSession();
  const places = usePlaces(open);
  const client = useQueryClient();
  const show = useShowId();
  const path = useShowPath();
  const { say } = useNotice();
  const change = useMutation({
    mutationFn: (body: Partial<Session>) => api.put<Session>(path("session"), body),
    onSuccess: (answer) => {
      client.setQueryData(["session", show], answer);
      client.invalidateQueries({ queryKey: ["show", show, "disk"] });
    },
    onError: (error) => say(error.message, "error"),
  });
  const now = session.data;
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        How it records
      </Button>
      <Dialog open={open && now !== undefined} onClose={() => setOpen(false)} maxWidth="xs" fullWidth>
        <DialogTitle>How takes are recorded</DialogTitle>
        {now && (
          <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 2, pt: "8px !important" }}>
            {held && "A take is running; what you change here holds from the next one on."}
            <TextField
              select
              size="small"
              label="Depth"
              value={now.encoding}
              onChange={({ target }) => change.mutate({ encoding: target.value })}
            >
              <MenuItem value="pcm24">24 bit</MenuItem>
              <MenuItem value="float32">32 bit float</MenuItem>
            </TextField>
            <NumberField
              label="Seconds from before Record was pressed"
              value={now.preroll_s}
              min={0}
              max={30}
              onKeep={(value) => change.mutate({ preroll_s: value })}
            />
            <TextField
              select
              size="small"
              label="Second copy, live"
              value={now.copy ?? ""}
              onChange={({ target }) => change.mutate({ copy: target.value || null })}
              helperText={
                places.data?.length === 0
                  ? "No other disk is mounted on this computer."
                  : "On a disk of its own one fault does not take both."
              }
            >
              <MenuItem value="">none</MenuItem>
              {now.copy && !places.data?.some((place) => place.path === now.copy) && (
                <MenuItem value={now.copy}>{now.copy} (not there now)</MenuItem>
              )}
              {places.data?.map((place) => (
                <MenuItem key={place.path} value={place.path}>
                  {place.path}, {gigabytes(place.free_bytes)}
                  {place.own_disk ? "" : ", the same disk"}
                </MenuItem>
              ))}
            </TextField>
            <NumberField
              label="Planned length of the show, minutes (0: not said)"
              value={Math.round((now.planned_s ?? 0) / 60)}
              min={0}
              max={1440}
              onKeep={(value) => change.mutate({ planned_s: value === 0 ? null : value * 60 })}
            />
            <NumberField
              label="Left free on each disk, MB"
              value={now.margin_mb}
              min={1}
              max={1_000_000}
              onKeep={(value) => change.mutate({ margin_mb: value })}
            />
            <FormControlLabel
              control={<Checkbox checked={now.carry_on} onChange={(_, on) => change.mutate({ carry_on: on })} />}
              label="A take that is broken off goes on by itself"
            />
            <FormControlLabel
              control={<Checkbox checked={now.stereo} onChange={(_, on) => change.mutate({ stereo: on })} />}
              label="Both sides of a pair into one stereo file"
            />
            <MainMix />
          </DialogContent>
        )}
        <DialogActions>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** Both sides of the main mix to two spare lanes, in one step. */
function MainMix() {
  const rig = useRig();
  const show = useShow();
  const { say } = useNotice();
  const edit = useShowCommand("edits", () => say("Main L and Main R are patched to two lanes and armed.", "success"));
  const desk = rig.data?.devices.find(({ kind }) => kind === "desk")?.id;
  const computer = show.data?.tracks[0]?.place.split("/")[0] ?? rig.data?.devices.find(({ kind }) => kind === "computer")?.id;
  return (
    <Button
      variant="outlined"
      color="inherit"
      disabled={!desk || !computer}
      onClick={() => desk && computer && edit({ label: "Record the main mix", edit: { kind: "record_mix", desk, computer } })}
    >
      Record the main mix on two spare lanes
    </Button>
  );
}

interface NumberProps {
  label: string;
  value: number;
  min: number;
  max: number;
  onKeep: (value: number) => void;
}

/** A number that is kept when it is left, or at Enter; one that is out of range stays as it was. */
function NumberField({ label, value, min, max, onKeep }: NumberProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    const number = Number(typed);
    if (typed !== null && typed.trim() !== "" && number >= min && number <= max && number !== value) onKeep(Math.round(number));
    setTyped(null);
  };
  const wrong = typed !== null && !(Number(typed) >= min && Number(typed) <= max);
  return (
    <TextField
      size="small"
      label={label}
      value={typed ?? String(value)}
      error={wrong}
      helperText={wrong ? `${min} to ${max}` : undefined}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      slotProps={{ htmlInput: { inputMode: "numeric" } }}
    />
  );
}
