import { Box, Button, ButtonBase } from "@mui/material";
import { useState } from "react";
import type { Show, Take } from "../../api/client";
import { useOverview } from "../../api/takes";
import { clock } from "../../model/format";
import { takeRowLabel, takeRows } from "../../model/takeRows";
import { useWidth } from "../../ui/useWidth";
import { Weft } from "../../ui/Weft";

/** Room for the names of tracks beside the cloth, in pixels. */
const useNamePx = () => (useWidth() === "phone" ? 96 : 150);
const POINTS = 1200;

interface Props {
  take: Take;
  show: Show;
  heard: string | null;
  onHear: (track: string) => void;
}

/**
 * A take as a cloth: a row a track, woven where it was recorded and bare warp where it rested; a mark is a thread
 * through the whole width, a gap a slit across all of them. Drag over it to look closer.
 */
export function TakeCloth({ take, show, heard, onHear }: Props) {
  const namePx = useNamePx();
  const [range, setRange] = useState<[number, number] | null>(null);
  const overview = useOverview(take.id, POINTS, range, take.state === "recording");
  const length = overview.data?.frames ?? take.frames;
  const [from, to] = range ?? [0, Math.max(1, length)];
  const tracks = takeRows(take, show);
  const dyes = new Map(show.tracks.map((track) => [track.id, track.colour ?? "walnut"]));
  const height = Math.max(11, Math.min(24, 420 / Math.max(1, tracks.length)));
  return (
    <Box sx={{ fontSize: 12.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, color: "text.secondary", pl: `${namePx}px` }}>
        <span>{clock(from / take.sample_rate_hz)}</span>
        <Box sx={{ flex: 1, textAlign: "center" }}>
          {range ? (
            <Button size="small" color="inherit" onClick={() => setRange(null)}>
              The whole take
            </Button>
          ) : (
            "drag to look closer"
          )}
        </Box>
        <Button
          size="small"
          color="inherit"
          onClick={() => onHear("mix")}
          disabled={take.state !== "closed"}
          aria-pressed={heard === "mix"}
        >
          Listen to a rough mix
        </Button>
        <span>{clock(to / take.sample_rate_hz)}</span>
      </Box>
      {overview.error && <Box sx={{ color: "text.secondary" }}>No picture: {overview.error.message}</Box>}
      <Box sx={{ position: "relative" }} role="group" aria-label={`${take.name}, a row a track`}>
        {tracks.map(({ track, number, name }) => (
          <Box key={track} sx={{ display: "flex", alignItems: "center", height }}>
            <ButtonBase
              onClick={() => onHear(track)}
              disabled={take.state !== "closed"}
              aria-label={`Listen to ${name}`}
              sx={{
                width: namePx,
                justifyContent: "flex-start",
                overflow: "hidden",
                whiteSpace: "nowrap",
                font: "inherit",
                fontSize: 12.5,
                fontWeight: heard === track ? 700 : 400,
              }}
            >
              {takeRowLabel({ track, number, name })}
            </ButtonBase>
            <Weft
              points={overview.data?.tracks.find((one) => one.track === track)?.points ?? []}
              pieces={take.files
                .filter((file) => file.track === track)
                .map((file) => ({ from: file.at_frames, to: file.frames === 0 ? length : file.at_frames + file.frames }))}
              from={from}
              to={to}
              colour={dyes.get(track) ?? "walnut"}
              height={height - 2}
              label={name}
            />
          </Box>
        ))}
        <Moments take={take} from={from} to={to} onRange={setRange} />
      </Box>
    </Box>
  );
}

/** Marks, slits and the pointer's own selection, over all rows. */
function Moments({ take, from, to, onRange }: { take: Take; from: number; to: number; onRange: (range: [number, number]) => void }) {
  const namePx = useNamePx();
  const [drag, setDrag] = useState<[number, number] | null>(null);
  const share = (frame: number) => `${((frame - from) / (to - from)) * 100}%`;
  const inside = (frame: number) => frame >= from && frame <= to;
  const place = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
  };
  const done = () => {
    if (drag && Math.abs(drag[1] - drag[0]) > 0.01) {
      const [one, other] = [Math.min(...drag), Math.max(...drag)].map((part) => Math.round(from + part * (to - from))) as [number, number];
      onRange([one, other]);
    }
    setDrag(null);
  };
  return (
    <Box
      sx={{ position: "absolute", top: 0, bottom: 0, left: namePx, right: 0, cursor: "crosshair", touchAction: "pan-y" }}
      onPointerDown={(event) => setDrag([place(event), place(event)])}
      onPointerMove={(event) => drag && setDrag([drag[0], place(event)])}
      onPointerUp={done}
      onPointerLeave={done}
    >
      {take.breaks.map((one) => (
        <Box
          key={one.frame}
          title={`broken off: ${one.why}`}
          sx={{
            position: "absolute",
            top: 0,
            bottom: 0,
            bgcolor: "background.default",
            borderLeft: "2px dashed",
            borderColor: "error.main",
          }}
          style={{ left: share(one.frame), width: `max(3px, ${((one.gap_frames ?? 0) / (to - from)) * 100}%)` }}
        />
      ))}
      {take.marks
        .filter((mark) => inside(mark.frame))
        .map((mark) => (
          <Box
            key={mark.id}
            title={mark.label || clock(mark.frame / take.sample_rate_hz)}
            sx={{ position: "absolute", top: 0, bottom: 0, width: "2px", bgcolor: "primary.main" }}
            style={{ left: share(mark.frame) }}
          />
        ))}
      {drag && (
        <Box
          sx={{ position: "absolute", top: 0, bottom: 0, bgcolor: "primary.main", opacity: 0.25 }}
          style={{ left: `${Math.min(...drag) * 100}%`, width: `${Math.abs(drag[1] - drag[0]) * 100}%` }}
        />
      )}
    </Box>
  );
}
