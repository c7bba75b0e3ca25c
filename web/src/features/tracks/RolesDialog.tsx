import { Box, Checkbox, FormControlLabel, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type LibraryRole } from "../../api/client";
import { useRoles } from "../../api/queries";
import { DialogButton } from "../../ui/DialogButton";
import { useNotice } from "../../ui/notice";

/** What stems can be, one list for all shows: what the audience never hears, and how many lanes each takes. */
export function RolesDialog() {
  return <DialogButton title="Roles">{() => <Roles />}</DialogButton>;
}

function Roles() {
  const roles = useRoles();
  const client = useQueryClient();
  const { say } = useNotice();
  const change = useMutation({
    mutationFn: ({ name, ...given }: { name: string; hidden?: boolean; lanes?: LibraryRole["lanes"] }) =>
      api.put<LibraryRole[]>(`/api/library/roles/${name}`, given),
    onSuccess: (all) => client.setQueryData(["library", "roles"], all),
    onError: (error) => say(error.message, "error"),
  });
  return (
    <Table size="small" aria-label="Roles">
      <TableHead>
        <TableRow>
          <TableCell>Role</TableCell>
          <TableCell>Audience</TableCell>
          <TableCell>Lanes</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {roles.data?.map((role) => (
          <TableRow key={role.name}>
            <TableCell>
              {role.name}
              {!role.settled && <Box sx={{ color: "warning.main", fontSize: 12.5 }}>new with a song; say what it is</Box>}
            </TableCell>
            <TableCell>
              <FormControlLabel
                control={
                  <Checkbox size="small" checked={role.hidden} onChange={(_, hidden) => change.mutate({ name: role.name, hidden })} />
                }
                label="never hears it"
                slotProps={{ typography: { sx: { fontSize: 13 } } }}
              />
            </TableCell>
            <TableCell>
              <TextField
                select
                size="small"
                value={role.lanes}
                onChange={({ target }) => change.mutate({ name: role.name, lanes: target.value === "pair" ? "pair" : "own" })}
                slotProps={{ htmlInput: { "aria-label": `Lanes of ${role.name}` } }}
              >
                <MenuItem value="own">one of its own</MenuItem>
                <MenuItem value="pair">two, left and right</MenuItem>
              </TextField>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
