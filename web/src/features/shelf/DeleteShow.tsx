import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type ListedShow, type Take } from "../../api/client";
import { clock, weight } from "../../model/format";

/** For good: says which takes go with it, and asks for the name. */
export function DeleteShow({ show }: { show: ListedShow }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" color="error" onClick={() => setOpen(true)} aria-label={`Delete ${show.name} for good`}>
        Delete for good
      </Button>
      {open && <Asked show={show} onClose={() => setOpen(false)} />}
    </>
  );
}

function Asked({ show, onClose }: { show: ListedShow; onClose: () => void }) {
  const [name, setName] = useState("");
  const [fault, setFault] = useState<string | null>(null);
  const client = useQueryClient();
  const takes = useQuery({
    queryKey: ["takes", show.id, "list", 200],
    queryFn: () => api.get<{ count: number; takes: Take[] }>(`/api/shows/${show.id}/takes?limit=200`),
    enabled: show.takes > 0,
  });
  async function remove() {
    try {
      await api.delete(`/api/shows/${show.id}?name=${encodeURIComponent(name)}`);
      await client.invalidateQueries({ queryKey: ["shelf"] });
      onClose();
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Delete {show.name} for good?</DialogTitle>
      <DialogContent>
        {show.takes === 0 ? (
          <Typography>The plan and its history go. No take goes with it.</Typography>
        ) : (
          <>
            <Alert severity="warning">
              {show.takes} {show.takes === 1 ? "take goes" : "takes go"} with it, {weight(show.bytes)} of recordings. Nothing brings them
              back.
            </Alert>
            <Typography component="ul" sx={{ fontSize: 13, maxHeight: 180, overflow: "auto", pl: 2.5 }}>
              {takes.data?.takes.map((take) => (
                <li key={take.id}>
                  {take.name}, {clock(take.frames / take.sample_rate_hz)}, {weight(take.bytes)}
                </li>
              ))}
            </Typography>
          </>
        )}
        <TextField
          fullWidth
          size="small"
          sx={{ mt: 2 }}
          label={`Write "${show.name}" to delete it`}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        {fault && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {fault}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose} autoFocus>
          Leave it
        </Button>
        <Button color="error" variant="contained" disabled={name !== show.name} onClick={remove}>
          Delete it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
