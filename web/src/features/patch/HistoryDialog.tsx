import { Table, TableBody, TableCell, TableRow, TextField } from "@mui/material";
import { useState } from "react";
import { who } from "../../api/client";
import { useHistory } from "../../api/queries";
import { DialogButton } from "../../ui/DialogButton";

/** Every edit with its time and who made it. */
export function HistoryDialog() {
  return <DialogButton title="History">{() => <Entries />}</DialogButton>;
}

function Entries() {
  const history = useHistory();
  const [name, setName] = useState(who.get());
  return (
    <>
      <TextField
        size="small"
        margin="dense"
        label="Your name in the history"
        value={name}
        onChange={(event) => {
          setName(event.target.value);
          who.set(event.target.value);
        }}
      />
      <Table size="small">
        <TableBody>
          {history.data?.map((entry) => (
            <TableRow key={entry.id} sx={{ opacity: entry.undone ? 0.5 : 1 }}>
              <TableCell sx={{ whiteSpace: "nowrap" }}>{new Date(entry.at).toLocaleTimeString()}</TableCell>
              <TableCell>
                {entry.label}
                {entry.undone ? " (undone)" : ""}
              </TableCell>
              <TableCell>{entry.who || (entry.mine ? "this browser" : "another browser")}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {history.data?.length === 0 && "Nothing has been edited yet."}
    </>
  );
}
