import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel } from "@mui/material";
import { useState } from "react";
import type { Show } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { pairsEdit } from "../../model/sheet";

/** Rows whose names say that they are two sides of one source: paired in one step, those that may be two of a kind only when ticked. */
export function PairsByName({ show }: { show: Show }) {
  const [open, setOpen] = useState(false);
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const edit = useShowCommand("edits", () => setOpen(false));
  const offers = show.pairs_offered.map(({ rows, sure }) => ({ rows, key: rows.join(), wanted: sure !== turned.has(rows.join()) }));
  const chosen = offers.filter(({ wanted }) => wanted).map(({ rows }) => rows);
  const name = (id: string | undefined) => show.rows.find((row) => row.id === id)?.name ?? "";
  if (offers.length === 0) return null;
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        Pairs by name: {offers.length}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)}>
        <DialogTitle>Two sides of one source?</DialogTitle>
        <DialogContent sx={{ display: "flex", flexDirection: "column" }}>
          {offers.map(({ rows, key, wanted }) => (
            <FormControlLabel
              key={key}
              control={
                <Checkbox
                  size="small"
                  checked={wanted}
                  onChange={() =>
                    setTurned((before) => new Set(before.has(key) ? [...before].filter((one) => one !== key) : [...before, key]))
                  }
                />
              }
              label={`${name(rows[0])} and ${name(rows[1])}`}
            />
          ))}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Leave it
          </Button>
          <Button
            variant="contained"
            disabled={chosen.length === 0}
            onClick={() =>
              edit({ label: chosen.length === 1 ? "Pair two rows" : `Pair ${2 * chosen.length} rows`, edit: pairsEdit(chosen) })
            }
          >
            Pair {chosen.length === 1 ? "them" : `these ${chosen.length}`}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
