import { Box, Button, MenuItem, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import type { FieldTable } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFields, useFieldTable, useMixes } from "../../api/patch";
import { useShow } from "../../api/show";
import { editOf } from "../../model/fieldTable";
import { useNotice } from "../../ui/notice";

interface Props {
  /** The place that was pointed at last. */
  at: string | null;
  /** The mix whose levels are open beside the loom. */
  mix: string | null;
  onMix: (mix: string | null) => void;
}

/** What can be set at the place one looks at: its tap, its delay, or the levels that a mix is made of. */
export function PlaceSettings({ at, mix, onMix }: Props) {
  const field = at?.split("/").slice(0, 2).join("/") ?? null;
  const known = useFields().data?.some(({ name }) => name === field) === true;
  const table = useFieldTable(known ? field : null);
  const mixes = useMixes();
  const own = mixes.data?.find(({ name }) => name === at);
  const slot = table.data?.slots.findIndex(({ id }) => id === at) ?? -1;
  if (own)
    return (
      <Button
        size="small"
        variant={mix === own.name ? "contained" : "outlined"}
        color="inherit"
        onClick={() => onMix(mix === own.name ? null : own.name)}
      >
        Levels of {own.label}
      </Button>
    );
  if (!table.data || slot < 0 || !table.data.slots[slot]?.takes) return null;
  return <SlotSettings key={at} table={table.data} line={slot} />;
}

function SlotSettings({ table, line }: { table: FieldTable; line: number }) {
  const slot = table.slots[line];
  const edit = useShowCommand("edits");
  const version = useShow().data?.version ?? 1;
  const { say } = useNotice();
  const [delay, setDelay] = useState(String(slot?.delay_ms ?? 0));
  useEffect(() => setDelay(String(slot?.delay_ms ?? 0)), [slot?.delay_ms]);
  if (!slot) return null;
  function write(key: "tap" | "delay_ms", value: string) {
    const made = editOf(table, [{ row: line, key, value }]);
    if ("fault" in made) say(made.fault, "error");
    else edit({ label: `${key === "tap" ? "Tap" : "Delay"} of ${table.label} ${slot?.number}`, edit: made.edit, version });
  }
  const keep = () => delay.trim() !== String(slot.delay_ms) && write("delay_ms", delay.trim() || "0");
  return (
    <Box sx={{ display: "flex", gap: 1, flexShrink: 0 }}>
      {slot.taps.length > 1 && (
        <TextField
          select
          size="small"
          label="Tap"
          value={slot.tap ?? ""}
          sx={{ minWidth: 112 }}
          onChange={({ target }) => write("tap", target.value)}
        >
          {slot.taps.map((tap) => (
            <MenuItem key={tap} value={tap}>
              {tap}
            </MenuItem>
          ))}
        </TextField>
      )}
      {table.delay_max_ms > 0 && (
        <TextField
          size="small"
          label={`Delay, 0 to ${table.delay_max_ms} ms`}
          value={delay}
          sx={{ width: 150 }}
          onChange={({ target }) => setDelay(target.value)}
          onKeyDown={({ key }) => {
            if (key === "Enter") keep();
            else if (key === "Escape") setDelay(String(slot.delay_ms));
          }}
          onBlur={keep}
        />
      )}
    </Box>
  );
}
