import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, Switch, TextField } from "@mui/material";
import { useState } from "react";
import { useBringing } from "../../api/bringing";
import type { ImportPlan, Place } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { FileButton } from "../../ui/FileButton";
import { Landing } from "../../ui/Landing";
import { useNotice } from "../../ui/notice";
import { MatchTable, parts } from "./MatchTable";

/** Brings in a recording made elsewhere: its files are matched by name, the rest by hand; the worker makes a take of them. */
export function ImportPanel({ onClose }: { onClose: () => void }) {
  const path = useShowPath();
  const { say } = useNotice();
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const [name, setName] = useState("");
  const [convert, setConvert] = useState(false);
  const [picking, setPicking] = useState(false);
  const { plan, fault, progress, leave, bringFiles, bringFolder, accept } = useBringing<ImportPlan>(path("imports"), ({ matched }) =>
    setChosen(Object.fromEntries(matched.map((place) => [`${place.file}#${place.channel}`, place.track]))),
  );

  async function make() {
    if (!plan) return;
    const places: Place[] = parts(plan).flatMap((part) =>
      chosen[part.key] ? [{ file: part.of.number, channel: part.channel, track: chosen[part.key] ?? "" }] : [],
    );
    if (!(await accept({ name, places, convert }))) return;
    say("The recording is being taken in; what runs is told at the top of every page.", "success");
    onClose();
  }
  const close = () => {
    leave();
    onClose();
  };
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth>
      <DialogTitle>Bring in a recording</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", pt: 1 }}>
          <FileButton files="WAV files" accept=".wav,.wave,.bwf,.rf64" multiple onFiles={bringFiles}>
            Choose WAV files
          </FileButton>
          <Button variant="outlined" onClick={() => setPicking((is) => !is)}>
            A folder of the recording computer
          </Button>
          {plan && <TextField size="small" label="Name of the take" value={name} onChange={({ target }) => setName(target.value)} />}
        </Box>
        <Landing
          picking={picking}
          onPicking={setPicking}
          onFolder={bringFolder}
          progress={progress}
          fault={fault}
          files={plan?.files ?? []}
        />
        {plan && plan.rate_faults.length > 0 && (
          <FormControlLabel
            control={<Switch checked={convert} onChange={(_, on) => setConvert(on)} />}
            label={`Convert the ${plan.rate_faults.length === 1 ? "file that is" : `${plan.rate_faults.length} files that are`} at another rate; otherwise they must be left out`}
          />
        )}
        {plan && (
          <MatchTable plan={plan} convert={convert} chosen={chosen} onChoose={(key, track) => setChosen({ ...chosen, [key]: track })} />
        )}
        {plan && plan.unfilled.length > 0 && (
          <Box sx={{ mt: 1, color: "text.secondary" }}>
            Without a file by name: {plan.unfilled.map((id) => plan.tracks.find((track) => track.id === id)?.name).join(", ")}.
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
        <Button variant="contained" disabled={!plan || Object.values(chosen).every((track) => !track)} onClick={make}>
          Make it a take
        </Button>
      </DialogActions>
    </Dialog>
  );
}
