import { Button, Dialog, DialogActions, DialogContent, DialogTitle, ListSubheader, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import type { Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { ownId } from "../../model/ownId";

const kinds = [
  ["desk", "Desks"],
  ["box", "Stage boxes"],
  ["computer", "Recording computers"],
  ["player", "Playback computers"],
  ["interface", "Interfaces"],
  ["listener", "Who listens"],
] as const;

export function AddGear({ rig }: { rig: Rig }) {
  const [open, setOpen] = useState(false);
  const [profile, setProfile] = useState("");
  const [name, setName] = useState("");
  const add = useShowCommand("edits", () => setOpen(false));
  const label = rig.profiles.find((one) => one.name === profile)?.label ?? "";
  const chosenName = name.trim() || label;
  return (
    <>
      <Button size="small" variant="contained" onClick={() => setOpen(true)}>
        Add gear
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="xs">
        <DialogTitle>Add gear</DialogTitle>
        <DialogContent>
          <TextField
            select
            fullWidth
            margin="dense"
            label="What it is"
            value={profile}
            onChange={(event) => setProfile(event.target.value)}
          >
            {kinds.flatMap(([kind, title]) => [
              <ListSubheader key={kind}>{title}</ListSubheader>,
              ...rig.profiles
                .filter((one) => one.kind === kind)
                .map((one) => (
                  <MenuItem key={one.name} value={one.name}>
                    {one.label}
                    {one.own ? " (own)" : ""}
                  </MenuItem>
                )),
            ])}
          </TextField>
          <TextField
            fullWidth
            margin="dense"
            label="What you call it"
            value={name}
            placeholder={label}
            onChange={(event) => setName(event.target.value)}
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Leave it
          </Button>
          <Button
            variant="contained"
            disabled={!profile}
            onClick={() => {
              add({
                label: `Add ${chosenName}`,
                edit: {
                  kind: "device",
                  id: ownId(
                    chosenName,
                    rig.devices.map(({ id }) => id),
                    "gear",
                  ),
                  profile,
                  name: chosenName,
                },
              });
              setName("");
            }}
          >
            Add it
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
