import { Button, TextField } from "@mui/material";
import { useState } from "react";
import type { Soundcheck } from "../../api/client";
import { useMay } from "../../api/may";
import { useSoundcheckCommand } from "../../api/stage";
import { nextAt, timeOfDay } from "../../model/doors";

/** When the doors open: until then the desk is to be back on the stage, and every page says so. */
export function Doors({ soundcheck }: { soundcheck: Soundcheck }) {
  const act = useSoundcheckCommand();
  const operates = useMay("stage");
  const kept = soundcheck.doors_at ? timeOfDay(new Date(soundcheck.doors_at)) : "";
  const [typed, setTyped] = useState<string | null>(null);
  const value = typed ?? kept;
  if (!operates) return null;
  const keep = () => {
    act.mutate({ do: "doors", at: value ? nextAt(value, new Date()).toISOString() : null });
    setTyped(null);
  };
  return (
    <form
      style={{ display: "flex", gap: 8, alignItems: "center", marginTop: 12 }}
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <TextField
        size="small"
        type="time"
        label="Doors at"
        value={value}
        onChange={({ target }) => setTyped(target.value)}
        slotProps={{ inputLabel: { shrink: true } }}
        sx={{ width: 140 }}
      />
      <Button type="submit" disabled={typed === null || typed === kept}>
        {value || !kept ? "Remind everybody" : "Remind nobody"}
      </Button>
    </form>
  );
}
