import { Box, Button, Chip, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { useCommand } from "../../api/command";
import { useTasks } from "../../api/shelf";

const PERCENT = { least: 60, most: 120 };

/** The song at other tempi, pitch kept, prepared in the background; the set list and the stage choose among them. */
export function TempiPart({ song }: { song: WholeSong }) {
  const prepare = useCommand(`/api/library/songs/${song.id}/tempi`, "tasks");
  const tasks = useTasks();
  const [typed, setTyped] = useState("");
  const percent = Number(typed);
  const good = Number.isInteger(percent) && percent >= PERCENT.least && percent <= PERCENT.most && percent !== 100;
  const under = tasks.data?.filter(
    ({ kind, subject, state }) =>
      kind === "song_tempo" &&
      subject.startsWith(`Preparing ${song.title} at `) &&
      ["waiting", "running", "stopping", "failed"].includes(state),
  );
  return (
    <Box component="section" aria-label="Practice tempi" sx={{ mt: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 700, mb: 0.5 }}>
        Practice tempi
      </Typography>
      <Box
        component="form"
        sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}
        onSubmit={(event) => {
          event.preventDefault();
          if (!good) return;
          prepare.mutate({ percent });
          setTyped("");
        }}
      >
        {song.tempi.length === 0 && <Typography color="text.secondary">Only its own so far.</Typography>}
        {song.tempi.map((ready) => (
          <Chip key={ready} label={`${ready} %${song.bpm === null ? "" : `, ${Math.round(song.bpm * ready) / 100} bpm`}`} />
        ))}
        <TextField
          size="small"
          label="Percent of its tempo"
          value={typed}
          error={typed !== "" && !good}
          helperText={typed !== "" && !good ? `${PERCENT.least} to ${PERCENT.most}, but 100` : ""}
          onChange={({ target }) => setTyped(target.value)}
          slotProps={{ htmlInput: { inputMode: "numeric" } }}
          sx={{ width: 170 }}
        />
        <Button type="submit" variant="outlined" color="inherit" disabled={!good}>
          Prepare
        </Button>
        {under?.map((task) => (
          <Typography key={task.id} role="status" sx={{ fontSize: 13, color: task.state === "failed" ? "error.main" : "text.secondary" }}>
            {task.state === "failed" ? `${task.subject}: ${task.words}` : `${task.subject}…`}
          </Typography>
        ))}
      </Box>
    </Box>
  );
}
