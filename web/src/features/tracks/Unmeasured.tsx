import { Box, Button } from "@mui/material";
import { useCommand } from "../../api/command";
import { useTasks } from "../../api/shelf";

/** Songs whose sound is not known: being measured, which happens by itself after a song is made, or to be. */
export function Unmeasured({ songs, children }: { songs: string[]; children: React.ReactNode }) {
  const measure = useCommand("/api/library/songs/measured", "tasks");
  const tasks = useTasks();
  const under = tasks.data?.some(({ kind, state }) => kind === "song_measure" && ["waiting", "running"].includes(state));
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: 13 }} role="status">
      {under ? (
        <span>Songs are being measured; waveform and loudness come by themselves.</span>
      ) : (
        <>
          <span>{children}</span>
          <Button size="small" color="inherit" onClick={() => measure.mutate({ songs })}>
            Measure now
          </Button>
        </>
      )}
    </Box>
  );
}
