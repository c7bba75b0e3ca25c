import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  MenuItem,
  Select,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
} from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type ImportPlan, type Place } from "../../api/client";

const LEFT_OUT = "";

/** Brings in a folder of WAV files: copied, checked, matched by name, the rest by hand. */
export function ImportPanel({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const [plan, setPlan] = useState<ImportPlan | null>(null);
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const [faults, setFaults] = useState<string[]>([]);
  const [progress, setProgress] = useState<number | null>(null);

  async function bring(files: File[]) {
    setFaults([]);
    const wrong: string[] = [];
    try {
      const { id } = await api.post<{ id: string }>("/api/imports", {});
      for (const [i, file] of files.entries()) {
        setProgress((100 * i) / files.length);
        await api
          .put(`/api/imports/${id}/files/${encodeURIComponent(file.name)}`, file, "application/octet-stream")
          .catch((error: Error) => wrong.push(error.message));
      }
      const found = await api.get<ImportPlan>(`/api/imports/${id}`);
      setPlan(found);
      setChosen(Object.fromEntries(found.matched.map((place) => [`${place.file}#${place.channel}`, place.track])));
    } catch (error) {
      wrong.push(error instanceof Error ? error.message : String(error));
    }
    setFaults(wrong);
    setProgress(null);
  }

  async function accept() {
    if (!plan) return;
    const places: Place[] = parts(plan).flatMap((part) =>
      chosen[part.key] ? [{ file: part.file, channel: part.channel, track: chosen[part.key] ?? "" }] : [],
    );
    try {
      await api.post(`/api/imports/${plan.id}/accept`, { name: "", places });
      await client.invalidateQueries({ queryKey: ["takes"] });
      onClose();
    } catch (error) {
      setFaults([error instanceof Error ? error.message : String(error)]);
    }
  }

  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>Bring in a recording</DialogTitle>
      <DialogContent>
        <Button component="label" variant="outlined">
          Choose WAV files
          <input
            type="file"
            multiple
            accept=".wav,.wave,.bwf"
            hidden
            aria-label="WAV files"
            onChange={(event) => bring([...(event.target.files ?? [])])}
          />
        </Button>
        {progress !== null && <LinearProgress variant="determinate" value={progress} sx={{ my: 1 }} aria-label="Copying and checking" />}
        {faults.map((fault) => (
          <Alert key={fault} severity="error" sx={{ mt: 1 }}>
            {fault}
          </Alert>
        ))}
        {plan && <MatchTable plan={plan} chosen={chosen} onChoose={(key, track) => setChosen({ ...chosen, [key]: track })} />}
        {plan && plan.unfilled.length > 0 && (
          <Box sx={{ mt: 1, color: "text.secondary" }}>
            Without a file by name: {plan.unfilled.map((id) => plan.tracks.find((track) => track.id === id)?.name).join(", ")}.
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Leave it
        </Button>
        <Button variant="contained" disabled={!plan || Object.values(chosen).every((track) => track === LEFT_OUT)} onClick={accept}>
          Make it a take
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const parts = (plan: ImportPlan) =>
  plan.files.flatMap((file) =>
    Array.from({ length: file.channels }, (_, i) => ({ key: `${file.file}#${i + 1}`, file: file.file, channel: i + 1, of: file })),
  );

function MatchTable({
  plan,
  chosen,
  onChoose,
}: {
  plan: ImportPlan;
  chosen: Record<string, string>;
  onChoose: (key: string, track: string) => void;
}) {
  return (
    <Table size="small" sx={{ mt: 1 }}>
      <TableHead>
        <TableRow>
          <TableCell>File</TableCell>
          <TableCell>Holds</TableCell>
          <TableCell>Goes to track</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {parts(plan).map((part) => (
          <TableRow key={part.key}>
            <TableCell>
              {part.of.title ?? part.file}
              {part.of.channels > 1 ? `, channel ${part.channel}` : ""}
            </TableCell>
            <TableCell>
              {part.of.bits} bit {part.of.encoding}, {part.of.sample_rate_hz / 1000} kHz,{" "}
              {(part.of.frames / part.of.sample_rate_hz).toFixed(1)} s
              {plan.rate_faults.includes(part.file) && (
                <Box sx={{ color: "warning.main" }}>not at the show's rate: leave it out, or convert it first</Box>
              )}
              {part.of.warnings.map((warning) => (
                <Box key={warning} sx={{ color: "warning.main" }}>
                  {warning}
                </Box>
              ))}
            </TableCell>
            <TableCell>
              <Select
                size="small"
                displayEmpty
                value={chosen[part.key] ?? LEFT_OUT}
                onChange={(event) => onChoose(part.key, event.target.value)}
                inputProps={{ "aria-label": `Track for ${part.file}` }}
              >
                <MenuItem value={LEFT_OUT}>
                  <em>left out</em>
                </MenuItem>
                {plan.tracks.map((track) => (
                  <MenuItem key={track.id} value={track.id}>
                    {track.name}
                  </MenuItem>
                ))}
              </Select>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
