import { Dialog, DialogContent, DialogTitle, Table, TableBody, TableCell, TableRow } from "@mui/material";
import { useHotkeys } from "react-hotkeys-hook";
import { useShowCommand } from "../api/edits";
import { useFrame } from "../api/live";
import { useMay } from "../api/may";

const keys = [
  ["Arrow keys", "move from place to place on the loom"],
  ["Enter", "pick a thread up, lay it down"],
  ["0–9", "jump to the place of that number"],
  ["R", "make what is held a run of eight, one to one onward; digits behind it say another length"],
  ["R R, or End", "make it a run to the end of the post"],
  ["Shift + ↓ ↑", "make the run longer or shorter by one"],
  ["B", "pick up the whole block that a place stands in"],
  ["F2", "name the place"],
  ["U", "unfold all posts, or fold them again"],
  ["+ and −", "make the loom larger or smaller"],
  ["W", "see all of the loom at once, or as before"],
  ["Escape", "let go of what is held"],
  ["Delete", "on the loom: free the place; in a table: empty the cells"],
  ["Ctrl + D", "in a table: fill down; places count on"],
  ["Alt + ↑ ↓", "in the input list: move the row"],
  ["Delete on a number", "in the input list: take the row out"],
  ["Ctrl + Z", "undo what you did in this browser"],
  ["Ctrl + Shift + Z", "redo"],
  ["Space", "in the soundcheck, while a take plays: pause, go on"],
  ["[ and ]", "there: go round from here, up to here"],
  ["L", "there: go round all of it, or no longer"],
  [", and .", "there: to the mark before, to the next"],
  ["?", "this sheet"],
];

/** Keys that work everywhere, and the sheet that lists all of them. */
export function Shortcuts({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) {
  const undo = useShowCommand("undo");
  const redo = useShowCommand("redo");
  // While a take runs, no stray key changes anything.
  const held = useFrame((frame) => frame.engine?.recording != null);
  const turns = useMay("operate") && !held;
  useHotkeys("ctrl+z, meta+z", () => undo({}), { enabled: turns, preventDefault: true });
  useHotkeys("ctrl+shift+z, meta+shift+z", () => redo({}), { enabled: turns, preventDefault: true });
  // On most keyboards it needs Shift, which is no part of what is meant.
  useHotkeys("?", () => onOpen(true), { useKey: true, ignoreModifiers: true, enabled: !held });
  return (
    <Dialog open={open} onClose={() => onOpen(false)}>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {keys.map(([key, what]) => (
              <TableRow key={key}>
                <TableCell component="th" sx={{ fontWeight: 700, whiteSpace: "nowrap" }}>
                  {key}
                </TableCell>
                <TableCell>{what}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  );
}
