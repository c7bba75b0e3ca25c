import { Box, ButtonBase, MenuItem, Popover, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Track } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { returnWords, SUMS, sharers } from "../../model/returns";
import { useWidth } from "../../ui/useWidth";

const OWN = "own";

/** The lane on which a track comes back; pressed, it can be summed with another's. */
export function ReturnOf({ show, track, mayEdit }: { show: Show; track: Track; mayEdit: boolean }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const edit = useShowCommand("edits");
  const high = useWidth() === "desk" ? 24 : 44;
  const others = sharers(show.tracks, track);
  const words = returnWords(show.tracks, track);
  const share = (beside: string, sum_db: number) => {
    const name = show.tracks.find(({ id }) => id === beside)?.name;
    edit({
      label: `${track.name} comes back with ${name}`.slice(0, 200),
      edit: { kind: "share_return", tracks: [track.id], beside, sum_db },
    });
  };
  const part = () =>
    edit({
      label: `${track.name} shares no return`.slice(0, 200),
      edit: { kind: "share_return", tracks: [track.id], beside: null },
    });
  if (!mayEdit || (others.length === 0 && track.beside === null)) return <Box sx={{ color: "text.secondary" }}>{words}</Box>;
  return (
    <>
      <ButtonBase
        onClick={(event) => setAt(event.currentTarget)}
        aria-label={`How ${track.name} comes back: ${words}`}
        sx={{
          font: "inherit",
          justifyContent: "start",
          textAlign: "left",
          borderRadius: 0.5,
          minHeight: high,
          textDecoration: "underline dotted",
          textUnderlineOffset: 3,
        }}
      >
        {words}
      </ButtonBase>
      <Popover open={at !== null} anchorEl={at} onClose={() => setAt(null)} anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
        <Box sx={{ p: 2, width: 300, display: "grid", gap: 1.5 }}>
          <Typography variant="h2">How {track.name} comes back</Typography>
          <TextField
            select
            size="small"
            label="Return lane"
            value={track.beside ?? OWN}
            onChange={({ target }) => (target.value === OWN ? part() : share(target.value, track.sum_db ?? -3))}
          >
            <MenuItem value={OWN}>{track.beside ? "none with another" : words}</MenuItem>
            {others.map(({ id, name, return_lane }) => (
              <MenuItem key={id} value={id}>
                lane {return_lane}, with {name}
              </MenuItem>
            ))}
          </TextField>
          {track.beside && (
            <TextField
              select
              size="small"
              label="Each of them at"
              value={track.sum_db ?? -3}
              onChange={({ target }) => track.beside && share(track.beside, Number(target.value))}
              helperText="All tracks on that lane are played at this, in place of their own level."
            >
              {SUMS.map(({ db, means }) => (
                <MenuItem key={db} value={db}>
                  {means}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Typography variant="body2" color="text.secondary">
            {track.beside
              ? "Given up, it comes back nowhere until it is laid again, at The way back."
              : "Where the card has too few lanes: two tracks on one lane arrive summed on one channel. The lane that it had becomes free."}
          </Typography>
        </Box>
      </Popover>
    </>
  );
}
