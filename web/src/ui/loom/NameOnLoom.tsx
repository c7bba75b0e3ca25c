import { Paper, TextField } from "@mui/material";
import { useRef, useState } from "react";
import type { Knot } from "../../api/client";

interface Props {
  knot: Knot;
  x: number;
  y: number;
  /** On the first post labels stand left of their place. */
  first: boolean;
  /** The name, or null where it stays as it was. */
  onDone: (name: string | null) => void;
}

/** A field over a place in which its name is written: Enter keeps it, Escape leaves it as it was. */
export function NameOnLoom({ knot, x, y, first, onDone }: Props) {
  const [name, setName] = useState(knot.name ?? "");
  const done = useRef(false);
  function finish(kept: string | null) {
    if (done.current) return;
    done.current = true;
    onDone(kept === (knot.name ?? "") ? null : kept);
  }
  return (
    <Paper elevation={4} sx={{ position: "absolute", left: Math.max(4, x - (first ? 150 : 70)), top: y - 20, zIndex: 3, p: 0.5 }}>
      <TextField
        size="small"
        autoFocus
        label={`Name of ${knot.label}`}
        value={name}
        sx={{ width: 210 }}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Enter") finish(name.trim());
          else if (event.key === "Escape") finish(null);
        }}
        onBlur={() => finish(name.trim())}
      />
    </Paper>
  );
}
