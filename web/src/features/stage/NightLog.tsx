import { Alert, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { usePresses } from "../../api/stage";
import { DialogButton } from "../../ui/DialogButton";

/** What was pressed, by whom, when, and where the song was. */
export function NightLog() {
  return (
    <DialogButton title="Log of the night" maxWidth="md">
      {() => <Presses />}
    </DialogButton>
  );
}

function Presses() {
  const presses = usePresses();
  if (presses.error) return <Alert severity="error">{presses.error.message}</Alert>;
  if (presses.data?.length === 0) return <Typography>Nothing was pressed yet while this show was on air.</Typography>;
  return (
    <Table size="small" aria-label="Log of the night">
      <TableHead>
        <TableRow>
          <TableCell>When</TableCell>
          <TableCell>What</TableCell>
          <TableCell>Where the song was</TableCell>
          <TableCell>Who</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {(presses.data ?? []).map((press) => (
          <TableRow key={press.id}>
            <TableCell sx={{ whiteSpace: "nowrap", fontVariantNumeric: "tabular-nums" }}>{when(press.at)}</TableCell>
            <TableCell>{press.label}</TableCell>
            <TableCell>{press.place}</TableCell>
            <TableCell>{press.who || "at this machine"}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

const when = (at: string): string => {
  const date = new Date(at);
  const day = date.toLocaleDateString([], { day: "numeric", month: "short" });
  return `${day}, ${date.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", second: "2-digit", hour12: false })}`;
};
