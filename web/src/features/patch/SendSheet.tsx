import { Alert, MenuItem, TextField } from "@mui/material";
import type { SendTable } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useMixes, useSendTable } from "../../api/patch";
import { useShow } from "../../api/show";
import type { Typed } from "../../model/grid";
import { columns, editOf, textOf } from "../../model/sendTable";
import { Grid } from "../../ui/grid/Grid";
import { useNotice } from "../../ui/notice";

/** Which mix the sends of are shown. */
export function MixChoice({ mix, onMix }: { mix: string | null; onMix: (mix: string) => void }) {
  const mixes = useMixes();
  const chosen = mixes.data?.some(({ name }) => name === mix) ? mix : (mixes.data?.[0]?.name ?? "");
  return (
    <TextField select size="small" label="Mix" value={chosen} sx={{ minWidth: 180 }} onChange={(event) => onMix(event.target.value)}>
      {(mixes.data ?? []).map((one) => (
        <MenuItem key={one.name} value={one.name}>
          {one.label}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What one mix is made of, with levels and taps. */
export function SendSheet({ mix, lit }: { mix: string | null; lit: string[] }) {
  const mixes = useMixes();
  const chosen = mixes.data?.some(({ name }) => name === mix) ? mix : (mixes.data?.[0]?.name ?? null);
  const table = useSendTable(chosen);
  return (
    <>
      {mixes.data?.length === 0 && <Alert severity="info">There is no desk with mixes yet. Add one on the Rig step.</Alert>}
      {table.error && <Alert severity="error">{table.error.message}</Alert>}
      {table.data && <Sends key={table.data.mix} table={table.data} lit={lit} />}
    </>
  );
}

function Sends({ table, lit }: { table: SendTable; lit: string[] }) {
  const { say } = useNotice();
  const edit = useShowCommand("edits");
  const now = useShow().data?.version ?? 1;

  function write(typed: Typed[], label: string, version: number) {
    const made = editOf(table, typed);
    if ("fault" in made) say(made.fault, "error");
    else edit({ label, edit: made.edit, version });
  }
  return (
    <Grid
      label={`Sends to ${table.label}`}
      columns={columns}
      lines={table.lines.length}
      textAt={(line, key) => textOf(table, line, key)}
      choicesAt={(line, key) => (key === "tap" ? table.lines[line]?.taps : undefined)}
      idOf={(line) => table.lines[line]?.id}
      nameOf={(line) => `${table.lines[line]?.label} to ${table.label}`}
      lit={lit}
      version={now}
      onWrite={write}
    />
  );
}
