import RedoIcon from "@mui/icons-material/Redo";
import UndoIcon from "@mui/icons-material/Undo";
import { Box, IconButton } from "@mui/material";
import { useShowCommand } from "../api/edits";
import { useShow } from "../api/show";

/** Undo and redo of what was done in this browser. */
export function UndoRedo() {
  const show = useShow();
  const undo = useShowCommand("undo");
  const redo = useShowCommand("redo");
  return (
    <Box sx={{ display: "flex", ml: "auto" }}>
      <Turn label="Undo" what={show.data?.undo} onTurn={() => undo({})} />
      <Turn label="Redo" what={show.data?.redo} onTurn={() => redo({})} />
    </Box>
  );
}

/** Undo or redo, with what it would take back said where one points. */
function Turn({ label, what, onTurn }: { label: "Undo" | "Redo"; what?: string | null; onTurn: () => void }) {
  return (
    <span title={what ? `${label}: ${what}` : `Nothing of yours to ${label.toLowerCase()}`}>
      <IconButton aria-label={label} size="small" color="primary" disabled={!what} onClick={onTurn}>
        {label === "Undo" ? <UndoIcon fontSize="small" /> : <RedoIcon fontSize="small" />}
      </IconButton>
    </span>
  );
}
