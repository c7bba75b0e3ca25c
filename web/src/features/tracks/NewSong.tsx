import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useBringing } from "../../api/bringing";
import type { SongPlan } from "../../api/client";
import { useShowId } from "../../api/openShow";
import { droppedFiles } from "../../ui/droppedFiles";
import { FileButton } from "../../ui/FileButton";
import { Landing } from "../../ui/Landing";
import { useNotice } from "../../ui/notice";
import { RoleField } from "./RoleField";
import { TempoField } from "./TempoField";

const IMPORTS = "/api/library/imports";
const SOUND = /\.(wav|wave|bwf|rf64|aif|aiff|aifc|flac|mp3|m4a|aac|opus|ogg)$/i;

interface Stem {
  file: number;
  name: string;
  role: string;
}

/** Makes a song of a dropped folder or files, or of a folder of the recording computer; it goes into this set list. */
export function NewSong({ onClose }: { onClose: () => void }) {
  const show = useShowId();
  const { say } = useNotice();
  const [stems, setStems] = useState<Stem[]>([]);
  const [about, setAbout] = useState<{ title: string; bpm: number | null; beats: number; keep: boolean }>({
    title: "",
    bpm: null,
    beats: 4,
    keep: false,
  });
  const [picking, setPicking] = useState(false);
  const { plan, fault, setFault, progress, leave, bringFiles, bringFolder, accept } = useBringing<SongPlan>(IMPORTS, ({ files, title }) => {
    const whole = files.filter(({ holds }) => holds);
    setStems(whole.map(({ number, title: called, role }) => ({ file: number, name: called.replace(/\.\w{2,4}$/, ""), role })));
    setAbout((now) => ({ ...now, title: now.title || title }));
  });
  /** @param title what the folder is called, empty where there is none */
  const bringSound = (all: File[], title: string) => {
    const files = all.filter(({ name }) => SOUND.test(name));
    if (files.length === 0) return setFault("There is no sound file among these: WAV, AIFF, FLAC, MP3, AAC or Opus.");
    setAbout((now) => ({ ...now, title: now.title || title }));
    bringFiles(files);
  };
  async function make() {
    const { title, bpm, beats, keep } = about;
    if (!(await accept({ title: title.trim(), bpm, beats_per_bar: beats, keep, show, stems }))) return;
    say("The song is being made; it joins the set list when it is ready.", "success");
    onClose();
  }
  const close = () => {
    leave();
    onClose();
  };
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth>
      <DialogTitle>New song</DialogTitle>
      <DialogContent>
        <Box
          data-testid="drop"
          onDragOver={(event) => event.preventDefault()}
          onDrop={async (event) => {
            event.preventDefault();
            const folder =
              [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry()).find((entry) => entry?.isDirectory)?.name ?? "";
            bringSound(await droppedFiles(event.dataTransfer), folder);
          }}
          sx={{
            border: "2px dashed",
            borderColor: "divider",
            borderRadius: 1,
            p: 2,
            display: "flex",
            gap: 1,
            alignItems: "center",
            flexWrap: "wrap",
          }}
        >
          <Typography color="text.secondary" sx={{ flex: "1 1 220px" }}>
            Drop the song's folder or its files here: WAV, AIFF, FLAC, MP3, AAC, Opus.
          </Typography>
          <FileButton files="Sound files" multiple onFiles={(files) => bringSound(files, "")}>
            Choose files
          </FileButton>
          <Button variant="outlined" onClick={() => setPicking((is) => !is)}>
            A folder of the recording computer
          </Button>
        </Box>
        <Landing
          picking={picking}
          onPicking={setPicking}
          onFolder={bringFolder}
          progress={progress}
          fault={fault}
          files={plan?.files ?? []}
        />
        {plan?.files.some(({ holds }) => holds) && (
          <>
            <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap", mt: 2 }}>
              <TextField
                size="small"
                label="Title"
                value={about.title}
                onChange={({ target }) => setAbout({ ...about, title: target.value })}
                sx={{ width: 260 }}
              />
              <TempoField bpm={about.bpm} onChange={(bpm) => setAbout((now) => ({ ...now, bpm }))} />
              <TextField
                size="small"
                type="number"
                label="Beats a bar"
                value={about.beats}
                onChange={({ target }) => setAbout({ ...about, beats: Math.min(32, Math.max(1, Number(target.value) || 1)) })}
                sx={{ width: 100 }}
              />
              <FormControlLabel
                control={<Switch size="small" checked={about.keep} onChange={(_, keep) => setAbout({ ...about, keep })} />}
                label="Keep the files as they came, too"
                slotProps={{ typography: { sx: { fontSize: 13 } } }}
              />
            </Box>
            <StemTable plan={plan} stems={stems} onChange={setStems} />
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
        <Button variant="contained" disabled={!plan || stems.length === 0 || !about.title.trim()} onClick={make}>
          Make the song
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function StemTable({ plan, stems, onChange }: { plan: SongPlan; stems: Stem[]; onChange: (stems: Stem[]) => void }) {
  const files = new Map(plan.files.map((file) => [file.number, file]));
  return (
    <Table size="small" sx={{ mt: 1 }} aria-label="Stems">
      <TableHead>
        <TableRow>
          <TableCell>Stem</TableCell>
          <TableCell>Role, by its name</TableCell>
          <TableCell>Holds</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {stems.map((stem) => {
          const holds = files.get(stem.file)?.holds;
          return (
            <TableRow key={stem.file}>
              <TableCell>{stem.name}</TableCell>
              <TableCell>
                <RoleField
                  role={stem.role}
                  label={`Role of ${stem.name}`}
                  onChange={(role) => onChange(stems.map((one) => (one.file === stem.file ? { ...one, role } : one)))}
                />
              </TableCell>
              <TableCell sx={{ whiteSpace: "nowrap" }}>
                {holds?.channels === 2 ? "stereo" : "mono"} {holds?.encoding}, {(holds?.sample_rate_hz ?? 0) / 1000} kHz
                {holds && holds.sample_rate_hz !== plan.rate_hz && (
                  <Box sx={{ color: "text.secondary" }}>becomes {plan.rate_hz / 1000} kHz</Box>
                )}
              </TableCell>
              <TableCell>
                <Button size="small" color="inherit" onClick={() => onChange(stems.filter((one) => one.file !== stem.file))}>
                  Leave out
                </Button>
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}
