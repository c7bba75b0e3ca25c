import { Alert, Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { useState } from "react";
import { useShowCommand } from "../../api/edits";
import { useSongLevels } from "../../api/library";
import { dbWords } from "../../model/roles";
import { DialogButton } from "../../ui/DialogButton";
import { Figure } from "../../ui/KeptField";
import { Unmeasured } from "./Unmeasured";

const TARGET_LUFS = -18;

/** Trims that bring all songs of the set to one loudness, shown before they are taken. */
export function LevelsDialog() {
  return <DialogButton title="Same loudness">{(close) => <Levels onDone={close} />}</DialogButton>;
}

function Levels({ onDone }: { onDone: () => void }) {
  const [target, setTarget] = useState(TARGET_LUFS);
  const levels = useSongLevels(target);
  const edit = useShowCommand("edits", onDone);
  const unknown = levels.data?.filter(({ loudness_lufs }) => loudness_lufs === null) ?? [];
  const known = levels.data?.some(({ trim_db }) => trim_db !== null);
  return (
    <Box sx={{ display: "grid", gap: 2, justifyItems: "start", pt: 1 }}>
      <Typography variant="body2" color="text.secondary">
        The stems of each song are trimmed for this evening; no peak comes over −1 dBTP. The click keeps its own level.
      </Typography>
      <Figure label="Loudness, LUFS" value={target} least={-40} most={-8} onKeep={setTarget} />
      {levels.error && <Alert severity="error">{levels.error.message}</Alert>}
      <Table size="small" aria-label="Loudness of the songs">
        <TableHead>
          <TableRow>
            <TableCell>Song</TableCell>
            <TableCell align="right">As it is</TableCell>
            <TableCell align="right">Trim</TableCell>
            <TableCell>Then</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {levels.data?.map(({ song, title, loudness_lufs, trim_db, short_db }) => (
            <TableRow key={song}>
              <TableCell>{title}</TableCell>
              <TableCell align="right">{loudness_lufs === null ? "not known" : `${lufs(loudness_lufs)} LUFS`}</TableCell>
              <TableCell align="right">{trim_db === null ? "stays" : dbWords(trim_db)}</TableCell>
              <TableCell>
                {trim_db === null || loudness_lufs === null ? "" : `${lufs(loudness_lufs + trim_db)} LUFS`}
                {short_db > 0 && <Box sx={{ color: "warning.main", fontSize: 12.5 }}>{short_db} dB short: its peaks have no more room</Box>}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {unknown.length > 0 && (
        <Unmeasured songs={unknown.map(({ song }) => song)}>
          Nobody has measured {unknown.length === 1 ? unknown[0]?.title : `${unknown.length} of these songs`}; such a song keeps its level.
        </Unmeasured>
      )}
      <Button
        variant="contained"
        disabled={!known}
        onClick={() => edit({ label: `Songs of the set at ${lufs(target)} LUFS`, edit: { kind: "level_songs", target_lufs: target } })}
      >
        Trim the set
      </Button>
    </Box>
  );
}

const lufs = (value: number) => `${value < 0 ? "−" : ""}${Math.abs(value).toFixed(1)}`;
