import { Button, Dialog, DialogActions, DialogContent, DialogTitle, ListSubheader, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import type { Rig } from "../../api/client";
import { useShowCommand } from "../../api/queries";

const kinds = [
  ["desk", "Desks"],
  ["box", "Stage boxes"],
  ["computer", "Recording computers"],
  ["player", "Playback computers"],
  ["interface", "Interfaces"],
  ["listener", "Who listens"],
] as const;

/** An id of its own from a name: "Box B" is box-b, a second one box-b-2. */
function idFor(name: string, taken: string[]): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFKD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 50) || "gear";
  let id = base;
  for (let n = 2; taken.includes(id); n += 1) id = `${base}-${n}`;
  return id;
}

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
                  id: idFor(
                    chosenName,
                    rig.devices.map(({ id }) => id),
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
