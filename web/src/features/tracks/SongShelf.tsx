import { Alert, Box, Button, Table, TableBody, TableCell, TableRow, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Show } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useSongs } from "../../api/library";
import { clock } from "../../model/format";
import { DialogButton } from "../../ui/DialogButton";
import { useSettled } from "../../ui/useSettled";
import { loudness, SongDialog } from "./SongDialog";

const A_PAGE = 50;

/** All songs of the library, to be added to the set list. */
export function SongShelf({ show }: { show: Show }) {
  return (
    <DialogButton title="Songs of the library" maxWidth="md">
      {() => <Listed show={show} />}
    </DialogButton>
  );
}

function Listed({ show }: { show: Show }) {
  const [search, setSearch] = useState("");
  const [shown, setShown] = useState(A_PAGE);
  const [open, setOpen] = useState<string | null>(null);
  const songs = useSongs(useSettled(search) ?? "", Math.min(shown, 200));
  const edit = useShowCommand("edits");
  const ids = show.songs.map(({ id }) => id);
  const left = (songs.data?.count ?? 0) - (songs.data?.songs.length ?? 0);
  return (
    <>
      <TextField size="small" fullWidth label="Title" value={search} onChange={({ target }) => setSearch(target.value)} sx={{ mt: 1 }} />
      {songs.error && <Alert severity="error">{songs.error.message}</Alert>}
      {songs.data?.count === 0 && (
        <Typography color="text.secondary" sx={{ mt: 1 }}>
          {search ? "No song has that in its title." : "The library is empty. Make a song from its files."}
        </Typography>
      )}
      <Table size="small" aria-label="Songs">
        <TableBody>
          {songs.data?.songs.map((song) => (
            <TableRow key={song.id} hover>
              <TableCell>
                <Button
                  color="inherit"
                  size="small"
                  onClick={() => setOpen(song.id)}
                  sx={{ fontWeight: 700, p: 0, minWidth: 0, textAlign: "left" }}
                >
                  {song.title}
                </Button>
                <Box sx={{ color: "text.secondary", fontSize: 12.5 }}>
                  {song.stems} {song.stems === 1 ? "stem" : "stems"}: {song.roles.join(", ")}
                </Box>
              </TableCell>
              <TableCell sx={{ whiteSpace: "nowrap" }}>{clock(song.length_frames / song.sample_rate_hz)}</TableCell>
              <TableCell sx={{ whiteSpace: "nowrap" }}>{song.bpm === null ? "no click" : `${song.bpm} bpm`}</TableCell>
              <TableCell sx={{ whiteSpace: "nowrap", color: "text.secondary" }}>{loudness(song)}</TableCell>
              <TableCell align="right">
                <Button
                  size="small"
                  variant="outlined"
                  disabled={ids.includes(song.id)}
                  onClick={() => edit({ label: `Add ${song.title} to the set list`, edit: { kind: "set_list", songs: [...ids, song.id] } })}
                  aria-label={`Add ${song.title} to the set list`}
                >
                  {ids.includes(song.id) ? "In the list" : "Add"}
                </Button>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {left > 0 && (
        <Button color="inherit" onClick={() => setShown((count) => count + A_PAGE)}>
          {left} more
        </Button>
      )}
      {open && <SongDialog id={open} onClose={() => setOpen(null)} />}
    </>
  );
}
