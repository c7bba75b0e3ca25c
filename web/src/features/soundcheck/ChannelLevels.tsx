import { Box, Typography } from "@mui/material";
import type { Show, Track } from "../../api/client";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { numberOf } from "../../model/format";
import { atDesk, inFile } from "../../model/levelOf";
import { Meter, MeterScale } from "../../ui/Meter";
import { Swatch } from "../../ui/Swatch";
import { useWidth } from "../../ui/useWidth";
import { ReturnOf } from "./ReturnOf";
import { TrackTurns } from "./TrackTurns";

/** Colour, name, at the desk, in the file, feed; where there is room, the way back; and what a track that plays can be turned with. */
const NARROW = "6px minmax(84px, 116px) 1fr 1fr 74px";
const WIDE = `${NARROW} minmax(64px, 150px)`;
const PLAYING = `${WIDE} 132px`;

/** Each channel's level at the desk beside the level of the file that plays into it. */
export function ChannelLevels({ show }: { show: Show }) {
  const plays = useFrame((frame) => frame.deck?.playing?.key?.startsWith("take/") ?? false);
  const operates = useMay("operate");
  const turns = operates && plays;
  const phone = useWidth() === "phone";
  const columns = columnsOf(turns, phone);
  return (
    <Box component="section" aria-label="Levels" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: columns, gap: 1, fontSize: 13, color: "text.secondary", mb: 0.5 }}>
        <span />
        <Typography component="h3" variant="h2" color="text.primary">
          Levels
        </Typography>
        <span>channel at the desk</span>
        <span>file that plays</span>
        <span>listens to</span>
        {!phone && <span>comes back on</span>}
        {turns && !phone && <span>trim dB</span>}
        <Box sx={{ gridColumn: "1 / 3" }} />
        <MeterScale />
        <MeterScale />
      </Box>
      {show.tracks.map((track) => (
        <LevelRow key={track.id} show={show} track={track} operates={operates} turns={turns} phone={phone} />
      ))}
    </Box>
  );
}

const columnsOf = (turns: boolean, phone: boolean): string => (phone ? NARROW : turns ? PLAYING : WIDE);

interface RowProps {
  show: Show;
  track: Track;
  operates: boolean;
  turns: boolean;
  phone: boolean;
}

/** The desk that is metered is the first one: a channel of another has no level here, rather than that of its namesake. */
function LevelRow({ show, track, operates, turns, phone }: RowProps) {
  const channel = track.channel?.startsWith(`${show.desks[0]?.id}/`) ? numberOf(track.channel) : null;
  return (
    <Box
      data-track={track.number}
      sx={{
        display: "grid",
        gridTemplateColumns: columnsOf(turns, phone),
        gap: 1,
        alignItems: "center",
        minHeight: 23,
        fontSize: 13,
      }}
    >
      <Swatch colour={track.colour} stitch={track.stitch} />
      <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{track.name}</Box>
      <Meter of={atDesk(channel)} label={`${track.name} at the desk`} height={9} />
      <Meter of={inFile(track.return_lane)} label={`${track.name} in the file`} height={9} />
      <Box sx={{ color: track.feed === "recorder" ? "error.main" : "text.secondary" }}>{track.feed ?? "nothing"}</Box>
      {!phone && <ReturnOf show={show} track={track} mayEdit={operates} />}
      {turns && track.return_lane !== null && (
        <Box sx={phone ? { gridColumn: "2 / -1" } : {}}>
          <TrackTurns track={track} />
        </Box>
      )}
    </Box>
  );
}
