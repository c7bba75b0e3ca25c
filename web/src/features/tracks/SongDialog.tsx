import {
  Alert,
  Box,
  Button,
  CircularProgress,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type WholeSong } from "../../api/client";
import { useSong } from "../../api/library";
import { clock, decibels } from "../../model/format";
import { NameField } from "../../ui/NameField";
import { useNotice } from "../../ui/notice";
import { ArrangementsPart } from "./ArrangementsPart";
import { ClickPart } from "./ClickPart";
import { CuesPart } from "./CuesPart";
import { RoleField } from "./RoleField";
import { SectionsPart } from "./SectionsPart";
import { TempiPart } from "./TempiPart";
import { TempoField } from "./TempoField";
import { TempoMapPart } from "./TempoMapPart";

type Change = Partial<
  Pick<
    WholeSong,
    "title" | "bpm" | "beats_per_bar" | "tempo" | "click" | "count_in_bars" | "bar_1_frame" | "sections" | "arrangements" | "cues"
  >
> & {
  stems?: { id: number; name: string; role: string }[];
};

/** One song of the library: what it is called, its tempo, and what each of its stems is. */
export function SongDialog({ id, onClose }: { id: string; onClose: () => void }) {
  const song = useSong(id);
  const client = useQueryClient();
  const { say } = useNotice();
  const lay = (whole: WholeSong) => client.setQueryData(["library", "song", id], whole);
  const edit = useMutation({
    mutationFn: ({ label, change }: { label: string; change: Change }) =>
      api.post<WholeSong>(`/api/library/songs/${id}/edits`, { version: song.data?.version ?? 1, label, song: change }),
    onSuccess: lay,
    onError: (error) => {
      say(error.message, "error");
      client.invalidateQueries({ queryKey: ["library", "song", id] });
    },
  });
  const replay = useMutation({
    mutationFn: (word: "undo" | "redo") => api.post<WholeSong>(`/api/library/songs/${id}/${word}`, {}),
    onSuccess: lay,
    onError: (error) => say(error.message, "error"),
  });
  const whole = song.data;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>{whole?.title ?? "Song"}</DialogTitle>
      <DialogContent>
        {song.error && <Alert severity="error">{song.error.message}</Alert>}
        {!whole && !song.error && <CircularProgress size={22} aria-label="Reading the song" />}
        {whole && <About song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && <TempoMapPart song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && whole.bpm !== null && <SectionsPart song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && whole.bpm !== null && <ArrangementsPart song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && whole.bpm !== null && <ClickPart song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && whole.bpm !== null && <CuesPart song={whole} onEdit={(label, change) => edit.mutate({ label, change })} />}
        {whole && <TempiPart song={whole} />}
        {whole && <Stems song={whole} onEdit={(label, stems) => edit.mutate({ label, change: { stems } })} />}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" disabled={!whole?.undo} onClick={() => replay.mutate("undo")} title={whole?.undo ?? ""}>
          Undo
        </Button>
        <Button color="inherit" disabled={!whole?.redo} onClick={() => replay.mutate("redo")} title={whole?.redo ?? ""} sx={{ mr: "auto" }}>
          Redo
        </Button>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** "−14.2 LUFS, −1.0 dBTP". */
export const loudness = ({ loudness_lufs, true_peak_dbtp }: { loudness_lufs: number | null; true_peak_dbtp: number | null }): string =>
  loudness_lufs === null ? "loudness not known" : `${decibels(loudness_lufs)} LUFS, ${decibels(true_peak_dbtp ?? undefined)} dBTP`;

function About({ song, onEdit }: { song: WholeSong; onEdit: (label: string, change: Change) => void }) {
  const [title, setTitle] = useState<string | null>(null);
  const keepTitle = () => {
    const text = title?.trim();
    if (text && text !== song.title) onEdit(`Title: ${text}`.slice(0, 200), { title: text });
    setTitle(null);
  };
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap", pt: 1 }}>
      <TextField
        size="small"
        label="Title"
        value={title ?? song.title}
        onChange={({ target }) => setTitle(target.value)}
        onBlur={keepTitle}
        onKeyDown={({ key }) => key === "Enter" && keepTitle()}
        sx={{ width: 280 }}
      />
      <TempoField bpm={song.bpm} onChange={(bpm) => bpm !== song.bpm && onEdit(bpm === null ? "No click" : `Tempo: ${bpm}`, { bpm })} />
      <Typography color="text.secondary" sx={{ fontSize: 13 }}>
        {clock(song.length_frames / song.sample_rate_hz)}, {song.sample_rate_hz / 1000} kHz, {loudness(song)}
      </Typography>
    </Box>
  );
}

function Stems({
  song,
  onEdit,
}: {
  song: WholeSong;
  onEdit: (label: string, stems: { id: number; name: string; role: string }[]) => void;
}) {
  const change = (id: number, label: string, changed: { name?: string; role?: string }) =>
    onEdit(
      label.slice(0, 200),
      song.stems.map(({ id: one, name, role }) => ({ id: one, name, role, ...(one === id ? changed : {}) })),
    );
  return (
    <Table size="small" sx={{ mt: 1.5 }} aria-label="Stems">
      <TableHead>
        <TableRow>
          <TableCell>Stem</TableCell>
          <TableCell>Role</TableCell>
          <TableCell>Holds</TableCell>
          <TableCell>Loudness</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {song.stems.map((stem) => (
          <TableRow key={stem.id}>
            <TableCell>
              <NameField
                name={stem.name}
                label={`Name of the stem ${stem.name}`}
                onRename={(name) => change(stem.id, `Stem: ${name}`, { name })}
              />
            </TableCell>
            <TableCell>
              <RoleField
                role={stem.role}
                label={`Role of ${stem.name}`}
                onChange={(role) => change(stem.id, `${stem.name} is ${role}`, { role })}
              />
            </TableCell>
            <TableCell>{stem.channels === 2 ? "stereo" : "mono"}</TableCell>
            <TableCell>{loudness(stem)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
