import { InputAdornment, TextField } from "@mui/material";
import { useState } from "react";

interface Props {
  name: string;
  frames: number;
  rateHz: number;
  onStart: (frames: number) => void;
}

/** When something begins: in milliseconds, kept to the sample. */
export function StartField({ name, frames, rateHz, onStart }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const ms = typed === null ? null : Number(typed.replace(",", "."));
  const wrong = ms !== null && !(Number.isFinite(ms) && ms >= 0);
  const keep = () => {
    if (ms !== null && !wrong) onStart(Math.round((ms * rateHz) / 1000));
    setTyped(null);
  };
  return (
    <TextField
      size="small"
      value={typed ?? String(Math.round((frames / rateHz) * 1e6) / 1000)}
      error={wrong}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      slotProps={{
        htmlInput: { "aria-label": `${name} begins at, ms`, inputMode: "decimal" },
        input: { endAdornment: <InputAdornment position="end">ms</InputAdornment> },
      }}
      sx={{ width: 124 }}
    />
  );
}
