import { Box, Button, ButtonBase, Checkbox } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Track } from "../../api/client";
import { useFrame } from "../../api/live";
import { decibels, span } from "../../model/format";
import { isSilent, onLane, SILENCE_DBFS } from "../../model/levelOf";
import { Meter, MeterScale } from "../../ui/Meter";
import { NameField } from "../../ui/NameField";
import { Swatch } from "../../ui/Swatch";
import { useWidth } from "../../ui/useWidth";
import { Ribbon } from "./Ribbon";

interface Props {
  track: Track;
  ribbon: number[];
  dense: boolean;
  acts: Acts | null;
}

/** Colour, track, lane, arm, level, ribbon, peak, what stands out; on a tablet the lane, on a phone also arm and ribbon are left out. */
const COLUMNS = {
  desk: "6px 150px 40px 36px minmax(120px, 190px) 1fr 52px 118px",
  tablet: "6px 150px 44px minmax(120px, 1fr) 1fr 52px 118px",
  phone: "6px minmax(96px, 130px) 1fr 52px",
};
/** Above this something is there (common practice). */
const SIGNAL_DBFS = -45;
/** So long a lane must be silent before it is said: a bar of rest is no fault. */
const SILENT_MS = 10_000;

/** What is asked of a track's row; who may not do it, is given none of it. */
export interface Acts {
  onArm: (armed: boolean) => void;
  onRename: (name: string) => void;
  onReset: () => void;
}

export function TrackHead({ onReset }: { onReset: (() => void) | undefined }) {
  const width = useWidth();
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: COLUMNS[width],
        gap: 1.25,
        fontSize: 12.5,
        color: "text.secondary",
        mb: 0.25,
        alignItems: "center",
      }}
    >
      <span />
      <span>Track</span>
      {width === "desk" && <span>Lane</span>}
      {width !== "phone" && <span>Arm</span>}
      <MeterScale />
      {width !== "phone" && <span>Last ten minutes</span>}
      <Box component="span" sx={{ textAlign: "right" }}>
        Peak
      </Box>
      {onReset && width !== "phone" && (
        <Button size="small" color="inherit" onClick={onReset} sx={{ p: 0, minHeight: 0, fontSize: 12.5, justifyContent: "flex-start" }}>
          Reset peaks
        </Button>
      )}
    </Box>
  );
}

/** Whether a lane has been silent for longer than a rest. */
function useLongSilent(quiet: boolean): boolean {
  const sinceMs = useRef(performance.now());
  const [silent, setSilent] = useState(false);
  useEffect(() => {
    if (!quiet) return setSilent(false);
    sinceMs.current = performance.now();
    const timer = setTimeout(() => setSilent(true), SILENT_MS);
    return () => clearTimeout(timer);
  }, [quiet]);
  return silent;
}

/** One thing at a time, the worst first. */
function remark(track: Track, clips: number, silent: boolean, held: number, refused: boolean, silenceS: number): [string, string] {
  if (refused) return ["disk refuses it", "error.main"];
  if (track.armed && silent) return ["armed and silent", "warning.main"];
  if (!track.armed && held > SIGNAL_DBFS) return ["signal, not armed", "warning.main"];
  if (clips > 0) return [`${clips} ${clips === 1 ? "clip" : "clips"}`, "error.main"];
  if (silenceS > 0) return [`was silent ${silenceS < 60 ? `${silenceS} s` : span(silenceS)}`, "text.secondary"];
  return ["", "text.secondary"];
}

export function TrackRow({ track, ribbon, dense, acts }: Props) {
  const width = useWidth();
  const phone = width === "phone";
  const tall = width === "desk" ? (dense ? 18 : 40) : 44;
  const lane = (track.lane ?? 0) - 1;
  const held = useFrame((frame) => frame.meters?.held_dbfs[lane] ?? SILENCE_DBFS);
  const clips = useFrame((frame) => frame.meters?.clips[lane] ?? 0);
  const silent = useLongSilent(useFrame((frame) => isSilent(track.lane, frame)));
  const silenceS = useFrame((frame) => frame.engine?.recording?.silences_s[track.id] ?? 0);
  const refused = useFrame((frame) => frame.engine?.recording?.places.map((place) => place.refused[track.id]).find(Boolean) ?? "");
  const [words, colour] = remark(track, clips, silent, held, refused !== "", silenceS);
  return (
    <Box
      role="listitem"
      data-track={track.id}
      sx={{
        display: "grid",
        gridTemplateColumns: COLUMNS[width],
        gap: 1.25,
        alignItems: "center",
        height: tall,
        fontSize: tall < 40 ? 12.5 : 14,
      }}
    >
      <Swatch colour={track.colour} stitch={track.stitch} />
      <Box sx={{ minWidth: 0 }}>
        <Box
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 0.75,
            whiteSpace: "nowrap",
            color: track.armed ? "text.primary" : "text.secondary",
            minWidth: 0,
          }}
        >
          <span>{String(track.number).padStart(2, "0")}</span>
          {acts && !phone ? (
            <NameField name={track.name} label={`Name of track ${track.number}`} onRename={acts.onRename} />
          ) : (
            <Box sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>{track.name}</Box>
          )}
        </Box>
        {phone && (
          <Box sx={{ fontSize: 12, lineHeight: 1.2, color: colour, whiteSpace: "nowrap" }}>{words || (track.armed ? "" : "not armed")}</Box>
        )}
      </Box>
      {width === "desk" && <Box sx={{ color: "text.secondary" }}>{track.lane ?? "none"}</Box>}
      {!phone &&
        (acts ? (
          <Checkbox
            size="small"
            color="error"
            checked={track.armed}
            onChange={(_, on) => acts.onArm(on)}
            slotProps={{ input: { "aria-label": `Arm ${track.name}` } }}
            sx={{ p: tall < 40 ? 0 : 0.75 }}
          />
        ) : (
          <Box sx={{ color: track.armed ? "error.main" : "text.secondary" }}>{track.armed ? "armed" : "no"}</Box>
        ))}
      <Meter of={onLane(track.lane)} heldDbfs={held} label={`${track.name} level`} height={tall < 40 ? 8 : 12} />
      {!phone && <Ribbon values={ribbon} label={track.name} height={tall < 40 ? 15 : 30} />}
      {acts ? (
        <ButtonBase
          data-peak={track.number}
          onClick={acts.onReset}
          aria-label={`${track.name}: highest peak ${decibels(held)} dBFS; begin anew`}
          sx={{ justifyContent: "flex-end", font: "inherit", height: "100%", color: held > -6 ? "warning.main" : "text.primary" }}
        >
          {decibels(held)}
        </ButtonBase>
      ) : (
        <Box data-peak={track.number} sx={{ textAlign: "right", color: held > -6 ? "warning.main" : "text.primary" }}>
          {decibels(held)}
        </Box>
      )}
      {!phone && (
        <Box title={refused || undefined} sx={{ fontSize: 12.5, color: colour, whiteSpace: "nowrap" }}>
          {words}
        </Box>
      )}
    </Box>
  );
}
