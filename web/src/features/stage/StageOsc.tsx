import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, Switch, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type StageOsc as Osc } from "../../api/client";
import { useMay } from "../../api/may";

const KEY = ["stage-osc"];

/** Whether the stage is run by OSC too, at which port, and by whom. */
export function StageOsc() {
  const leads = useMay("lead");
  const [open, setOpen] = useState(false);
  const osc = useQuery({ queryKey: KEY, queryFn: () => api.get<Osc>("/api/stage/osc"), refetchInterval: open ? 2000 : 30_000 });
  if (!osc.data) return null;
  return (
    <>
      {leads && (
        <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
          OSC {osc.data.listens ? "on" : "off"}
        </Button>
      )}
      {osc.data.listens && osc.data.fault && <Alert severity="warning">OSC is not heard: {osc.data.fault}</Alert>}
      {open && <Wish osc={osc.data} onClose={() => setOpen(false)} />}
    </>
  );
}

function Wish({ osc, onClose }: { osc: Osc; onClose: () => void }) {
  const client = useQueryClient();
  const [port, setPort] = useState(String(osc.port));
  const [senders, setSenders] = useState(osc.senders.join(" "));
  const [listens, setListens] = useState(osc.listens);
  const keep = useMutation({
    mutationFn: () => api.put<Osc>("/api/stage/osc", { listens, port: Number(port), senders: senders.split(/[\s,]+/).filter(Boolean) }),
    onSuccess: (kept) => {
      client.setQueryData(KEY, kept);
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>OSC</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "flex", flexDirection: "column", gap: 2, pt: 1 }}>
          <FormControlLabel
            control={<Switch checked={listens} onChange={(_, on) => setListens(on)} />}
            label="The stage is run by OSC over UDP too"
          />
          <TextField size="small" label="Port" value={port} onChange={({ target }) => setPort(target.value)} />
          <TextField
            size="small"
            label="Who may send"
            value={senders}
            onChange={({ target }) => setSenders(target.value)}
            helperText="IP addresses with spaces between; all others are not listened to"
          />
          {keep.error && <Alert severity="error">{keep.error.message}</Alert>}
          {osc.fault && <Alert severity="warning">It is not heard: {osc.fault}</Alert>}
          <Box component="p" sx={{ m: 0, color: "text.secondary", fontSize: 13 }}>
            /loomshuttle/go, stop, stop-at-bar, fade, silence, round, jump, next, tempo; each message is answered with ok or no and why.
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
        <Button variant="contained" disabled={keep.isPending} onClick={() => keep.mutate()}>
          Keep it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
