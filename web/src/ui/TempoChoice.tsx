import { MenuItem, TextField } from "@mui/material";
import type { Song } from "../api/client";
import { useShowCommand } from "../api/edits";

/** At which of the tempi that were prepared a song is played; nothing where there is only its own. */
export function TempoChoice({ song, tall = false }: { song: Song; tall?: boolean }) {
  const edit = useShowCommand("edits");
  const { percent } = song.listed;
  if (song.tempi.length === 0 && percent === null) return null;
  const all = [...new Set([...song.tempi, ...(percent === null ? [] : [percent])])].sort((one, other) => one - other);
  return (
    <TextField
      select
      size="small"
      label="Tempo"
      value={percent ?? 100}
      error={percent !== null && !song.tempi.includes(percent)}
      onChange={({ target }) => {
        const chosen = Number(target.value);
        edit({
          label: `${song.title} at ${chosen} %`.slice(0, 200),
          edit: { kind: "listed", song: song.id, percent: chosen === 100 ? null : chosen },
        });
      }}
      sx={{ minWidth: 150, ...(tall && { "& .MuiInputBase-root": { minHeight: 44 } }) }}
    >
      {[100, ...all].map((one) => (
        <MenuItem key={one} value={one}>
          {one === 100 ? "its own" : `${one} %`}
        </MenuItem>
      ))}
    </TextField>
  );
}
