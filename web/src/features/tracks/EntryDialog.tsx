import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
} from "@mui/material";
import type { Listed, Song } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { Figure, Line } from "../../ui/KeptField";
import { TempoChoice } from "../../ui/TempoChoice";

const ENDS: [Listed["after"], string][] = [
  ["go", "next waits for Go"],
  ["on", "goes on"],
  ["wait", "goes on after"],
  ["stop", "set stops"],
];

/** What holds for a song on this evening; each field is kept when it is left. */
export function EntryDialog({ song, onClose }: { song: Song; onClose: () => void }) {
  const edit = useShowCommand("edits");
  const { listed } = song;
  const keep = (change: Partial<Listed>, words: string) =>
    edit({ label: `${song.title}: ${words}`.slice(0, 200), edit: { kind: "listed", song: song.id, ...change } });
  const minutes = (field: "talk_s" | "break_s", label: string) => (
    <Figure
      label={`${label}, min`}
      value={listed[field] / 60}
      most={240}
      onKeep={(value) => keep({ [field]: Math.round(value * 60) }, `${label.toLowerCase()} ${value} min`)}
    />
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{song.title} on this evening</DialogTitle>
      <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 2, "&&": { pt: 1 } }}>
        <TextField
          select
          size="small"
          label="Arrangement"
          value={song.lost_arrangement ?? listed.arrangement ?? ""}
          error={song.lost_arrangement !== null}
          helperText={song.lost_arrangement && `The song has no ${song.lost_arrangement} any more: choose another one.`}
          onChange={({ target }) => keep({ arrangement: target.value || null }, target.value || "as it lies")}
        >
          <MenuItem value="">as it lies</MenuItem>
          {[...new Set([...song.arrangements, ...(song.lost_arrangement ? [song.lost_arrangement] : [])])].map((name) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <TempoChoice song={song} />
        <div style={{ display: "flex", gap: 12, flexWrap: "wrap" }}>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={listed.after}
            aria-label="At its end"
            onChange={(_, after) => after && keep({ after }, ENDS.find(([one]) => one === after)?.[1] ?? "")}
          >
            {ENDS.map(([after, words]) => (
              <ToggleButton key={after} value={after}>
                {words}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          {listed.after === "wait" && (
            <Figure
              label="Wait, s"
              value={listed.wait_s}
              most={3600}
              onKeep={(value) => keep({ wait_s: Math.round(value) }, `waits ${value} s`)}
            />
          )}
        </div>
        <div style={{ display: "flex", gap: 12, flexWrap: "wrap" }}>
          {minutes("talk_s", "Talk behind it")}
          {minutes("break_s", "Break behind it")}
          <Figure
            label="Trim of the stems, dB"
            value={listed.trim_db}
            least={-40}
            most={12}
            onKeep={(trim_db) => keep({ trim_db }, `trim ${trim_db} dB`)}
          />
        </div>
        <Line label="Key" value={listed.key} onKeep={(key) => keep({ key }, `key ${key}`)} />
        <Line label="Note" value={listed.note} onKeep={(note) => keep({ note }, `note ${note}`)} />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
