import { Alert, Box, Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import type { FieldTable } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFields, useFieldTable } from "../../api/patch";
import { useShow } from "../../api/show";
import { columnsOf, editOf, textOf } from "../../model/fieldTable";
import type { Typed } from "../../model/grid";
import { tapsInWords } from "../../model/taps";
import { Grid } from "../../ui/grid/Grid";
import { useNotice } from "../../ui/notice";
import { MixChoice, SendSheet } from "./SendSheet";

interface Props {
  field: string;
  onField: (field: string) => void;
  lit: string[];
}

/** Stands among the fields for what is sent to mixes. */
const SENDS = "sends";

/** Every field of every device as a sheet, for typing, for spreadsheets and for screen readers. */
export function FieldSheet({ field, onField, lit }: Props) {
  const fields = useFields();
  const [mix, setMix] = useState<string | null>(null);
  const onSends = field === SENDS;
  const choices = (fields.data ?? []).filter(({ name }) => name.includes("/"));
  const chosen = choices.some(({ name }) => name === field) ? field : (choices[0]?.name ?? null);
  const table = useFieldTable(onSends ? null : chosen);
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column", gap: 1 }}>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", pt: 0.75 }}>
        <TextField
          select
          size="small"
          label="What is patched"
          value={onSends ? SENDS : (chosen ?? "")}
          sx={{ minWidth: 220 }}
          onChange={(event) => onField(event.target.value)}
        >
          {choices.map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.label}
            </MenuItem>
          ))}
          <MenuItem value={SENDS}>sends to a mix</MenuItem>
        </TextField>
        {onSends && <MixChoice mix={mix} onMix={setMix} />}
        {table.data && <BlockHint table={table.data} />}
        <Box component="span" sx={{ color: "text.secondary", fontSize: 12.5, ml: "auto" }}>
          {onSends ? "Type a level; Delete takes the send off" : "Type a source; Delete frees a slot; Ctrl+D counts on downward"}
        </Box>
      </Box>
      {onSends && <SendSheet mix={mix} lit={lit} />}
      {chosen === null && <Alert severity="info">There is no gear with slots to patch yet. Add it on the Rig step.</Alert>}
      {table.error && <Alert severity="error">{table.error.message}</Alert>}
      {table.data && <Slots key={table.data.field} table={table.data} lit={lit} />}
    </Box>
  );
}

function BlockHint({ table }: { table: FieldTable }) {
  if (table.block === 1) return null;
  return (
    <Box component="span" sx={{ fontSize: 12.5, color: "text.secondary" }}>
      Patched in blocks of {table.block}: name the source of one slot and its block follows
      {table.opens ? "; a block can be opened to single choices" : ""}.
    </Box>
  );
}

function Slots({ table, lit }: { table: FieldTable; lit: string[] }) {
  const { say } = useNotice();
  const edit = useShowCommand("edits");
  const now = useShow().data?.version ?? 1;
  const columns = columnsOf(table);

  function write(typed: Typed[], label: string, version: number) {
    const made = editOf(table, typed);
    if ("fault" in made) say(made.fault, "error");
    else edit({ label, edit: made.edit, version });
  }
  const offered = [...new Set(table.slots.flatMap((slot) => slot.taps))];
  const openable = table.block > 1 && table.opens;
  return (
    <>
      <Grid
        label={table.label}
        columns={columns}
        lines={table.slots.length}
        textAt={(line, key) => textOf(table, line, key)}
        choicesAt={(line, key) => (key === "tap" ? table.slots[line]?.taps : undefined)}
        offersFor={(key) => (key === "takes" ? table.sources.map(({ label }) => label) : undefined)}
        idOf={(line) => table.slots[line]?.id}
        nameOf={(line) => `${table.label} ${table.slots[line]?.number}`}
        isMissing={(line) => table.slots[line]?.present === false}
        lit={lit}
        version={now}
        onWrite={write}
      />
      {offered.length > 1 && <Box sx={{ fontSize: 12.5, color: "text.secondary", pb: 0.5 }}>Taps: {tapsInWords(offered)}.</Box>}
      {openable && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, pb: 1 }}>
          {table.slots
            .filter((slot) => (slot.number - 1) % table.block === 0)
            .map((slot) => (
              <Button
                key={slot.id}
                size="small"
                color="inherit"
                variant={slot.opened ? "contained" : "outlined"}
                aria-pressed={slot.opened}
                onClick={() =>
                  edit({
                    label: slot.opened ? "Close a block" : "Open a block",
                    edit: { kind: "open_block", slot: slot.id, open: !slot.opened },
                  })
                }
              >
                {slot.opened ? "Close" : "Open"} {slot.number}–{slot.number + table.block - 1}
              </Button>
            ))}
        </Box>
      )}
    </>
  );
}
