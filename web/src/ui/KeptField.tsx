import { TextField } from "@mui/material";
import { useState } from "react";

interface FigureProps {
  label: string;
  /** What it is called where nothing stands over it, as in a table. */
  bare?: boolean;
  value: number;
  least?: number;
  most: number;
  width?: number;
  onKeep: (value: number) => void;
}

/** A number that is kept when it is left, or with Enter. */
export function Figure({ label, bare = false, value, least = 0, most, width = 160, onKeep }: FigureProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const given = typed === null ? value : Number(typed.replace(",", ".").replace("−", "-"));
  const good = typed?.trim() !== "" && Number.isFinite(given) && given >= least && given <= most;
  const keep = () => {
    if (typed !== null && good && given !== value) onKeep(given);
    if (good) setTyped(null);
  };
  return (
    <TextField
      size="small"
      {...(!bare && { label })}
      value={typed ?? String(Math.round(value * 100) / 100)}
      error={!good}
      helperText={good ? "" : `${least} to ${most}`}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      slotProps={{ htmlInput: { inputMode: "decimal", ...(bare && { "aria-label": label }) } }}
      sx={{ width }}
    />
  );
}

/** A line of text that is kept when it is left, or with Enter. */
export function Line({ label, value, onKeep }: { label: string; value: string; onKeep: (value: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed !== null && typed.trim() !== value) onKeep(typed.trim());
    setTyped(null);
  };
  return (
    <TextField
      size="small"
      label={label}
      value={typed ?? value}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      slotProps={{ htmlInput: { maxLength: 200 } }}
    />
  );
}
