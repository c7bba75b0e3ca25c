import { Box, Button, TextField } from "@mui/material";
import { useTouch } from "../useWidth";

/** What is in the hand: a place, or the block of slots that begins there, and how many go one to one onward with it. */
export interface Hold {
  id: string;
  block: boolean;
  /** "end" is as many as both posts have. */
  run: number | "end";
  label: string;
}

/** What is held over another place, and whether the thread between them would come off. */
export interface Aim {
  from: string;
  to: string;
  count: number | "end";
  block: boolean;
  part: boolean;
}

interface Props {
  hold: Hold;
  takesOff: boolean;
  onRun: (run: Hold["run"]) => void;
  onFree?: () => void;
  onLetGo: () => void;
}

/** Says what is held, and how long a run it is. */
export function HoldChip({ hold, takesOff, onRun, onFree, onLetGo }: Props) {
  const touch = useTouch();
  const { run } = hold;
  return (
    <Box
      data-testid="hold"
      sx={{
        position: "absolute",
        bottom: 4,
        left: 8,
        bgcolor: "background.paper",
        border: 1,
        borderColor: "primary.main",
        borderRadius: 1,
        px: 1.5,
        py: hold.block ? 0.5 : 1,
        fontSize: 13,
        display: "flex",
        alignItems: "center",
        gap: 1.5,
        flexWrap: "wrap",
        maxWidth: "calc(100% - 16px)",
      }}
    >
      <span>
        Holding {hold.label}
        {run === "end" ? ", a run to the end" : run > 1 ? `, run of ${run}` : ""}: {touch ? "a tap" : "click or Enter"}{" "}
        {takesOff ? "takes the thread off" : hold.block ? "moves it there" : "lays it"}
        {touch ? "" : ", Escape lets go"}
      </span>
      {!hold.block && (
        <>
          <TextField
            size="small"
            type="number"
            label="Run of"
            value={run === "end" ? "" : run}
            sx={{ width: 84 }}
            slotProps={{ htmlInput: { min: 1, max: 512 }, inputLabel: { shrink: true } }}
            onChange={(event) => onRun(Math.min(512, Math.max(1, Math.round(Number(event.target.value)) || 1)))}
          />
          <Button
            size="small"
            variant={run === "end" ? "contained" : "outlined"}
            color="inherit"
            onClick={() => onRun(run === "end" ? 1 : "end")}
          >
            To the end
          </Button>
        </>
      )}
      {onFree && (
        <Button size="small" variant="outlined" color="inherit" onClick={onFree}>
          Free this place
        </Button>
      )}
      {touch && (
        <Button size="small" variant="outlined" color="inherit" onClick={onLetGo}>
          Let go
        </Button>
      )}
    </Box>
  );
}
