import { Box, Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Take } from "../../api/client";
import { useCommand } from "../../api/command";
import { printable } from "../../model/player";
import { useNotice } from "../../ui/notice";

/** Plays a take once and records what the desk sends back on other lanes, aligned to the sample. */
export function PrintPass({ show, take, onClose }: { show: Show; take: Take; onClose: () => void }) {
  const tracks = printable(show.tracks, take);
  const [chosen, setChosen] = useState(new Set(tracks.filter(({ own }) => !own).map(({ id }) => id)));
  const over = useCommand<{ number: number }>(`takes/${take.id}/over`, "takes", take.name);
  const { say } = useNotice();
  const turn = (id: string, on: boolean) => setChosen(new Set(on ? [...chosen, id] : [...chosen].filter((one) => one !== id)));
  const begin = () =>
    over.mutate(
      { tracks: tracks.filter(({ id }) => chosen.has(id)).map(({ id }) => id), once: true },
      {
        onSuccess: ({ number }) => {
          say(`Take ${number} prints ${take.name}; it ends by itself.`, "success");
          onClose();
        },
      },
    );
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Print pass of {take.name}</DialogTitle>
      <DialogContent>
        <Typography color="text.secondary" sx={{ mb: 1 }}>
          It plays once from its beginning; what the desk sends back on the chosen tracks becomes a new take that lies sample for sample
          beside it. It ends by itself three seconds behind, so that effects ring out.
          {show.feed === "stage" && " The desk listens to the stage: what plays is not what it sends back."}
        </Typography>
        {tracks.length > 0 && tracks.every(({ own }) => own) && (
          <Typography sx={{ color: "warning.main", mb: 1 }}>
            Every track with a lane is one of the take itself. To print a mix, lay the main mix on two spare lanes first, at Capture.
          </Typography>
        )}
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(210px, 1fr))" }}>
          {tracks.map(({ id, name, lane, own }) => (
            <FormControlLabel
              key={id}
              control={<Checkbox size="small" checked={chosen.has(id)} onChange={(_, on) => turn(id, on)} />}
              label={
                <>
                  {name}
                  <Box component="span" sx={{ color: "text.secondary" }}>
                    {" "}
                    · lane {lane}
                    {own && " · in the take"}
                  </Box>
                </>
              }
            />
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Leave it
        </Button>
        <Button variant="contained" disabled={chosen.size === 0 || over.isPending} onClick={begin}>
          Print {chosen.size} {chosen.size === 1 ? "track" : "tracks"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
