import {
  Alert,
  Button,
  CircularProgress,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  RadioGroup,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type OnAir, type Show } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { useOnAir } from "../../api/shelf";
import { useNotice } from "../../ui/notice";
import { DeskAt } from "./DeskAt";

type Direction = "send" | "take" | "watch";

const directions: { key: Direction; label: string; means: string }[] = [
  { key: "send", label: "Send the plan to the desk", means: "The desk is set as this show is planned, and follows it from then on." },
  { key: "take", label: "Take the desk's state", means: "The plan becomes what the desk has now, as one edit that can be undone." },
  { key: "watch", label: "Only watch", means: "Neither is touched. What differs is shown; the desk is told of no edit." },
];

/** Gives desk and audio device to the open show: what that would meet is said, and a direction asked for, before anything moves. */
export function OnAirDialog({ show, onClose }: { show: Show; onClose: () => void }) {
  const meets = useOnAir(true);
  const [direction, setDirection] = useState<Direction | null>(show.on_air ? (show.follows ? "send" : "watch") : null);
  const path = useShowPath();
  const client = useQueryClient();
  const { say } = useNotice();
  const done = () => {
    client.invalidateQueries({ queryKey: ["show"] });
    client.invalidateQueries({ queryKey: ["shelf"] });
    onClose();
  };
  const put = useMutation({
    mutationFn: (way: Direction) => api.post(path("on-air"), { direction: way }),
    onSuccess: done,
    onError: (error) => say(error.message, "error"),
  });
  const leave = useMutation({
    mutationFn: () => api.delete(path("on-air")),
    onSuccess: done,
    onError: (error) => say(error.message, "error"),
  });
  const take = meets.data?.take ?? null;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>{show.on_air ? `${show.name} is on air` : `Put ${show.name} on air`}</DialogTitle>
      <DialogContent>
        <DeskAt onOther={() => setDirection(null)} />
        {meets.error && <Alert severity="error">{meets.error.message}</Alert>}
        {!meets.data && !meets.error && <CircularProgress size={22} aria-label="Asking the desk" />}
        {meets.data && <Meets meets={meets.data} show={show} />}
        <RadioGroup
          aria-label="Direction"
          value={direction ?? ""}
          onChange={(_, value) => setDirection(directions.find(({ key }) => key === value)?.key ?? null)}
        >
          {directions.map(({ key, label, means }) => (
            <FormControlLabel
              key={key}
              value={key}
              control={<Radio size="small" />}
              disabled={key !== "watch" && meets.data?.fault != null}
              sx={{ alignItems: "flex-start", mt: 1 }}
              label={
                <>
                  <strong>{label}</strong>
                  <Typography color="text.secondary" sx={{ fontSize: 13 }}>
                    {means}
                  </Typography>
                </>
              }
            />
          ))}
        </RadioGroup>
      </DialogContent>
      <DialogActions>
        {show.on_air && (
          <Button color="error" disabled={take !== null || leave.isPending} onClick={() => leave.mutate()} sx={{ mr: "auto" }}>
            Take it off air
          </Button>
        )}
        <Button color="inherit" onClick={onClose}>
          Leave it
        </Button>
        <Button
          variant="contained"
          disabled={direction === null || take !== null || !meets.data || put.isPending}
          onClick={() => direction && put.mutate(direction)}
        >
          {show.on_air ? "Do it" : "Put on air"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const SHOWN_CHANGES = 6;

/** Who is on air now, and how the desk stands to this plan. */
function Meets({ meets, show }: { meets: OnAir; show: Show }) {
  const other = meets.on_air && meets.on_air.id !== show.id ? meets.on_air.name : null;
  const places = meets.changes.reduce((sum, change) => sum + change.places.length, 0);
  return (
    <>
      {meets.take !== null && (
        <Alert severity="error">Take {meets.take} runs. Stop it first: a take belongs to the show that is on air.</Alert>
      )}
      {other && <Typography>{other} is on air now. It keeps its plan and its takes; only desk and audio device change hands.</Typography>}
      {meets.fault ? (
        <Alert severity="warning" sx={{ my: 1 }}>
          {meets.fault[0]?.toUpperCase()}
          {meets.fault.slice(1)}. Until it answers, the show can only be put on air to watch.
        </Alert>
      ) : places === 0 ? (
        <Typography sx={{ mt: 1 }}>The desk has what this show plans.</Typography>
      ) : (
        <>
          <Typography sx={{ mt: 1 }}>
            The desk differs from this plan in {places} {places === 1 ? "place" : "places"}:
          </Typography>
          <Typography component="ul" color="text.secondary" sx={{ fontSize: 13, pl: 2.5, my: 0.5 }}>
            {meets.changes.slice(0, SHOWN_CHANGES).map((change) => (
              <li key={change.words}>{change.words}</li>
            ))}
            {meets.changes.length > SHOWN_CHANGES && <li>and {meets.changes.length - SHOWN_CHANGES} more</li>}
          </Typography>
        </>
      )}
    </>
  );
}
