import { Box, Button, TextField } from "@mui/material";
import { useState } from "react";
import { tapped, tempoOf } from "../../model/tempo";

/** Quarter notes a minute that a song can have. */
const LEAST = 5;
const MOST = 999;

interface Props {
  bpm: number | null;
  onChange: (bpm: number | null) => void;
}

/** Beats a minute, typed or tapped; empty is a song without a click. */
export function TempoField({ bpm, onChange }: Props) {
  const [taps, setTaps] = useState<number[]>([]);
  const [typed, setTyped] = useState<string | null>(null);
  const tap = () => {
    const now = tapped(taps, performance.now());
    setTaps(now);
    const tempo = tempoOf(now);
    if (tempo !== null && tempo >= LEAST && tempo <= MOST) onChange(tempo);
  };
  const leave = () => {
    if (typed !== null) {
      const number = Number(typed.replace(",", "."));
      onChange(typed.trim() === "" || Number.isNaN(number) ? null : Math.min(MOST, Math.max(LEAST, number)));
    }
    setTyped(null);
  };
  return (
    <Box sx={{ display: "flex", gap: 1 }}>
      <TextField
        size="small"
        label="Tempo, bpm"
        value={typed ?? (bpm === null ? "" : String(bpm))}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={leave}
        onKeyDown={({ key }) => key === "Enter" && leave()}
        placeholder="no click"
        sx={{ width: 120 }}
      />
      <Button variant="outlined" color="inherit" onPointerDown={tap} onKeyDown={({ key, repeat }) => key === " " && !repeat && tap()}>
        Tap
      </Button>
    </Box>
  );
}
