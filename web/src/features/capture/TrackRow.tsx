import { Box, Checkbox } from "@mui/material";
import type { Track } from "../../api/client";
import { useFrame } from "../../api/live";
import { decibels } from "../../model/format";
import { Meter } from "../../ui/Meter";
import { Swatch } from "../../ui/Swatch";
import { Ribbon } from "./Ribbon";

interface Props {
  track: Track;
  held: boolean;
  ribbon: number[];
  dense: boolean;
  onArm: (armed: boolean) => void;
}

/** Colour, track, lane, arm, level, ribbon, peak, what stands out. */
const COLUMNS = "6px 150px 54px 40px minmax(110px, 170px) 1fr 52px 54px";

export function TrackHead() {
  return (
    <Box aria-hidden sx={{ display: "grid", gridTemplateColumns: COLUMNS, gap: 1.25, fontSize: 12.5, color: "text.secondary", mb: 0.5 }}>
      <span />
      <span>Track</span>
      <span>Lane</span>
      <span>Arm</span>
      <span>Level now</span>
      <span>Last ten minutes</span>
      <Box component="span" sx={{ textAlign: "right" }}>
        Peak
      </Box>
      <span>Clips</span>
    </Box>
  );
}

export function TrackRow({ track, held, ribbon, dense, onArm }: Props) {
  const lane = (track.lane ?? 0) - 1;
  const peak = useFrame((frame) => frame.meters?.peak_dbfs[lane] ?? -150);
  const clips = useFrame((frame) => frame.meters?.clips[lane] ?? 0);
  const top = Math.max(-150, peak, ...ribbon);
  return (
    <Box
      role="listitem"
      sx={{
        display: "grid",
        gridTemplateColumns: COLUMNS,
        gap: 1.25,
        alignItems: "center",
        height: dense ? 19 : 38,
        mb: dense ? 0 : 0.25,
      }}
    >
      <Swatch colour={track.colour} stitch={track.stitch} />
      <Box
        sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", color: track.armed ? "text.primary" : "text.secondary" }}
      >
        {String(track.number).padStart(2, "0")} {track.name}
      </Box>
      <Box sx={{ color: "text.secondary" }}>{track.lane ?? "none"}</Box>
      <Checkbox
        size="small"
        color="error"
        checked={track.armed}
        disabled={held}
        onChange={(_, on) => onArm(on)}
        slotProps={{ input: { "aria-label": `Arm ${track.name}` } }}
        sx={{ p: dense ? 0 : 0.75 }}
      />
      <Meter peakDbfs={peak} label={`${track.name} level`} height={dense ? 8 : 12} />
      <Ribbon values={ribbon} label={track.name} height={dense ? 16 : 30} />
      <Box data-peak={track.number} sx={{ textAlign: "right" }}>
        {decibels(top)}
      </Box>
      <Box sx={{ fontSize: 12.5, color: clips > 0 ? "error.main" : "text.secondary" }}>
        {clips > 0 ? `${clips} clips` : top < -60 && track.armed ? "silent" : ""}
      </Box>
    </Box>
  );
}
