import { InputBase, type SxProps } from "@mui/material";
import { useRef, useState } from "react";
import { FINGER_PX, FINGERS } from "../theme/theme";

interface Props {
  name: string;
  label: string;
  onRename: (name: string) => void;
  /** What stands there while there is no name; without it there must be one. */
  empty?: string;
  /** It appears to be written in, and goes when that is done. */
  onLeave?: () => void;
  sx?: SxProps;
}

/** A name that is written over where it stands: Enter keeps it, Escape leaves it as it was. */
export function NameField({ name, label, onRename, empty, onLeave, sx }: Props) {
  const [text, setText] = useState<string | null>(null);
  const left = useRef(false);
  const keep = () => {
    const plain = text?.trim();
    if (!left.current && plain !== undefined && (plain !== "" || empty !== undefined) && plain !== name) onRename(plain);
    left.current = false;
    setText(null);
    onLeave?.();
  };
  return (
    <InputBase
      autoFocus={onLeave !== undefined}
      value={text ?? name}
      placeholder={empty ?? ""}
      onFocus={() => setText(name)}
      onChange={({ target }) => setText(target.value)}
      onBlur={keep}
      onKeyDown={({ key, currentTarget }) => {
        left.current = key === "Escape";
        if (key === "Enter" || key === "Escape") (currentTarget.querySelector("input") ?? currentTarget).blur();
      }}
      inputProps={{ "aria-label": label, maxLength: 300 }}
      sx={{
        font: "inherit",
        color: "inherit",
        flex: 1,
        minWidth: 0,
        "& input": { p: 0, height: "auto", textOverflow: "ellipsis", [FINGERS]: { minHeight: FINGER_PX } },
        "&:focus-within": { bgcolor: "background.default" },
        ...sx,
      }}
    />
  );
}
