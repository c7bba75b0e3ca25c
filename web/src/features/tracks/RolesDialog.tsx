import { Alert, Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { RoleTable, Show } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useRoleTable } from "../../api/library";
import { laneNumber } from "../../model/roles";
import { DialogButton } from "../../ui/DialogButton";
import { MixLines } from "./MixLines";
import { RoleLines } from "./RoleLines";

/** Which role goes to which lanes and how loud, in this show, usually, and in one song; and mixes of roles. */
export function RolesDialog({ show }: { show: Show }) {
  return (
    <DialogButton title="Roles and lanes" maxWidth="lg">
      {() => <Roles show={show} />}
    </DialogButton>
  );
}

function Roles({ show }: { show: Show }) {
  const table = useRoleTable();
  if (table.error) return <Alert severity="error">{table.error.message}</Alert>;
  if (!table.data) return null;
  return (
    <>
      <RoleLines table={table.data} songs={show.songs} />
      <MixLines table={table.data} />
      <TwoLanes table={table.data} />
    </>
  );
}

/** Where there are no more: click and cue on one side, the music on the other. */
function TwoLanes({ table }: { table: RoleTable }) {
  const edit = useShowCommand("edits");
  const free = table.lanes.filter(({ leads }) => leads);
  const [left, setLeft] = useState("");
  const [right, setRight] = useState("");
  const lane = (label: string, value: string, set: (id: string) => void, other: string) => (
    <TextField select size="small" label={label} value={value} onChange={({ target }) => set(target.value)} sx={{ width: 170 }}>
      {free
        .filter(({ id }) => id !== other)
        .map(({ id, number, device, takes_label }) => (
          <MenuItem key={id} value={id}>
            {device} {number}
            {takes_label ? `, takes ${takes_label}` : ""}
          </MenuItem>
        ))}
    </TextField>
  );
  return (
    <Box component="section" aria-label="Two lanes only" sx={{ mt: 3 }}>
      <Typography variant="subtitle2">Two lanes only</Typography>
      <Typography variant="body2" sx={{ color: "text.secondary", mb: 1.5 }}>
        Click and cue on the left one, all music summed on the right one. All other lanes let go of their roles; Undo brings them back.
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center" }}>
        {lane("Click on", left, setLeft, right)}
        {lane("Music on", right, setRight, left)}
        <Button
          variant="outlined"
          color="inherit"
          disabled={!left || !right}
          onClick={() =>
            edit({ label: `Two lanes only: ${laneNumber(left)} and ${laneNumber(right)}`, edit: { kind: "two_lanes", left, right } })
          }
        >
          Use these two alone
        </Button>
      </Box>
    </Box>
  );
}
