import { Box, Chip, MenuItem, TextField } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { api, type OwnSound } from "../../api/client";
import { useOwnSounds } from "../../api/library";
import { FileButton } from "../../ui/FileButton";
import { useNotice } from "../../ui/notice";

interface FieldProps {
  label: string;
  value: string | undefined;
  /** What stands there while none is chosen. */
  none: string;
  onChoose: (id: string | undefined) => void;
}

/** One of the sounds that were brought. */
export function OwnSoundField({ label, value, none, onChoose }: FieldProps) {
  const sounds = useOwnSounds();
  const known = sounds.data ?? [];
  return (
    <TextField
      select
      size="small"
      label={label}
      value={known.some(({ id }) => id === value) ? value : ""}
      onChange={({ target }) => onChoose(target.value || undefined)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      error={value !== undefined && sounds.data !== undefined && !known.some(({ id }) => id === value)}
      sx={{ minWidth: 150 }}
    >
      <MenuItem value="">{none}</MenuItem>
      {known.map(({ id, name, length_ms }) => (
        <MenuItem key={id} value={id}>
          {name} ({length_ms < 1000 ? `${length_ms} ms` : `${(length_ms / 1000).toFixed(1)} s`})
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Brings a sound into the library, and takes out what no song asks for. */
export function BringSound({ to, onBrought }: { to: string; onBrought: (sound: OwnSound) => void }) {
  const sounds = useOwnSounds();
  const client = useQueryClient();
  const { say } = useNotice();
  const again = () => client.invalidateQueries({ queryKey: ["library", "sounds"] });
  const bring = (file: File | undefined) =>
    file &&
    api
      .send<OwnSound>(`/api/library/sounds?name=${encodeURIComponent(file.name.slice(0, 100))}`, file, "application/octet-stream")
      .then(async (sound) => {
        await again();
        onBrought(sound);
      })
      .catch((error: Error) => say(error.message, "error"));
  const takeOut = ({ id }: OwnSound) =>
    api
      .delete(`/api/library/sounds/${id}`)
      .then(again)
      .catch((error: Error) => say(error.message, "error"));
  const unused = (sounds.data ?? []).filter(({ songs }) => songs === 0);
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <FileButton
        files={`Sound file for ${to}`}
        accept="audio/*,.wav,.flac,.aif,.aiff,.mp3,.ogg"
        size="small"
        color="inherit"
        onFiles={([file]) => bring(file)}
      >
        Bring a sound
      </FileButton>
      {unused.map((sound) => (
        <Chip
          key={sound.id}
          size="small"
          label={`${sound.name}, not used`}
          onDelete={() => takeOut(sound)}
          aria-label={`Take out the sound ${sound.name}`}
        />
      ))}
    </Box>
  );
}
