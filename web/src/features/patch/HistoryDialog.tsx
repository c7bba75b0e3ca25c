import { Button, Table, TableBody, TableCell, TableRow, TextField } from "@mui/material";
import { useState } from "react";
import { who } from "../../api/client";
import { useHistory } from "../../api/show";
import { DialogButton } from "../../ui/DialogButton";

/** Years of shows: the day counts as well. */
const when = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", second: "2-digit" });

const A_PAGE = 50;
const MOST = 1000;

/** Every edit with its time and who made it. */
export function HistoryDialog() {
  return <DialogButton title="History">{() => <Entries />}</DialogButton>;
}

function Entries() {
  const [shown, setShown] = useState(A_PAGE);
  const history = useHistory(shown);
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
              <TableCell sx={{ whiteSpace: "nowrap" }}>{when.format(new Date(entry.at))}</TableCell>
              <TableCell>
                {entry.label}
                {entry.undone ? " (undone)" : ""}
              </TableCell>
              <TableCell>{entry.who || (entry.mine ? "this browser" : "another browser")}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {shown < MOST && (history.data?.length ?? 0) >= shown && (
        <Button color="inherit" onClick={() => setShown((count) => count + A_PAGE)}>
          Older ones
        </Button>
      )}
      {history.data?.length === 0 && "Nothing has been edited yet."}
    </>
  );
}
