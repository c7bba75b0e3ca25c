import { MenuItem, TextField } from "@mui/material";
import { useState } from "react";

/** A text that is kept when one leaves it or presses Enter, and only if it changed. */
export function KeptText({
  label,
  value,
  type = "text",
  onKeep,
}: {
  label: string;
  value: string | number;
  type?: "text" | "number";
  onKeep: (value: string) => void;
}) {
  const [text, setText] = useState(String(value));
  const keep = () => text !== String(value) && onKeep(text);
  return (
    <TextField
      size="small"
      fullWidth
      margin="dense"
      label={label}
      type={type}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === "Enter" && keep()}
    />
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  options: readonly { value: string; label: string }[];
  onChoose: (value: string) => void;
}

export function Choice({ label, value, options, onChoose }: ChoiceProps) {
  return (
    <TextField select size="small" fullWidth margin="dense" label={label} value={value} onChange={(event) => onChoose(event.target.value)}>
      {options.map((option) => (
        <MenuItem key={option.value} value={option.value}>
          {option.label}
        </MenuItem>
      ))}
    </TextField>
  );
}
