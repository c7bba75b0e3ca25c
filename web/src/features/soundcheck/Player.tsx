import CloseIcon from "@mui/icons-material/Close";
import PauseIcon from "@mui/icons-material/Pause";
import PlayArrowIcon from "@mui/icons-material/PlayArrow";
import RepeatIcon from "@mui/icons-material/Repeat";
import StopIcon from "@mui/icons-material/Stop";
import { Box, Button, IconButton, TextField, ToggleButton, Tooltip, Typography, useTheme } from "@mui/material";
import { useEffect, useMemo, useRef, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Take } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame, useLevels } from "../../api/live";
import { useMay } from "../../api/may";
import { useShow } from "../../api/show";
import { useOverview } from "../../api/takes";
import { clock } from "../../model/format";
import { betweenMarks, envelope, markBeside, typedBar, typedTime } from "../../model/player";

const POINTS = 600;
const HEIGHT_PX = 56;
/** A key moves it by so much; and a press on "the mark before" right behind a mark means the one before that. */
const STEP_S = 5;
const SLACK_S = 1;

/** The one transport of what plays: whoever operates sees and moves the same. */
export function Player({ take }: { take: Take }) {
  const operates = useMay("operate");
  const rate = take.sample_rate_hz;
  const paused = useFrame((frame) => frame.deck?.playing?.paused ?? false);
  // The place in it comes with the levels, as often as they do.
  useLevels({});
  const position = useFrame((frame) => frame.deck?.playing?.position_frames ?? 0);
  const length = useFrame((frame) => frame.deck?.playing?.length_frames ?? take.frames);
  const loopFrom = useFrame((frame) => frame.deck?.playing?.loop?.[0] ?? null);
  const loopTo = useFrame((frame) => frame.deck?.playing?.loop?.[1] ?? null);
  const loop = useMemo(() => (loopFrom === null || loopTo === null ? null : [loopFrom, loopTo]), [loopFrom, loopTo]);
  const failed = useFrame((frame) => JSON.stringify(frame.deck?.playing?.failed ?? {}));
  const late = useFrame((frame) => frame.deck?.playing?.late_blocks ?? 0);
  const act = useTransport();
  const moves = { enabled: operates, preventDefault: true };
  useHotkeys("space", () => act.pause(!paused), moves);
  useHotkeys("l", () => act.loop(loop ? null : [0]), moves);
  useHotkeys("[", () => act.loop([position, loop?.[1] && loop[1] > position ? loop[1] : length]), { ...moves, useKey: true });
  useHotkeys("]", () => act.loop([loop?.[0] && loop[0] < position ? loop[0] : 0, position]), { ...moves, useKey: true });
  useHotkeys(",", () => act.locate(markBeside(take.marks, position, -1, SLACK_S * rate) ?? 0), { ...moves, useKey: true });
  useHotkeys(".", () => act.locate(markBeside(take.marks, position, 1, 0) ?? position), { ...moves, useKey: true });
  return (
    <Box component="section" aria-label="Player" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        {operates && (
          <>
            <IconButton aria-label={paused ? "Go on" : "Pause"} color="primary" onClick={() => act.pause(!paused)}>
              {paused ? <PlayArrowIcon /> : <PauseIcon />}
            </IconButton>
            <IconButton aria-label="Stop playing" onClick={act.stop}>
              <StopIcon />
            </IconButton>
          </>
        )}
        <Typography sx={{ fontVariantNumeric: "tabular-nums", fontSize: 18 }} data-testid="position">
          {clock(position / rate)}
        </Typography>
        <Typography color="text.secondary" sx={{ flex: "1 0 auto" }} noWrap>
          of {clock(length / rate)}
          {paused && " · paused"}
        </Typography>
        {operates && <GoTo onGo={(seconds) => act.locate(Math.min(length - 1, Math.round(seconds * rate)))} onBar={act.locateBar} />}
        {operates && (
          <Tooltip title={loop ? "It goes round" : "It plays once"}>
            <ToggleButton
              size="small"
              value="loop"
              selected={loop !== null}
              aria-label="Go round"
              onChange={() => act.loop(loop ? null : [0])}
              sx={{ width: 44, height: 44 }}
            >
              <RepeatIcon fontSize="small" />
            </ToggleButton>
          </Tooltip>
        )}
      </Box>
      <Strip take={take} length={length} position={position} loop={loop} onLocate={operates ? act.locate : null} onLoop={act.loop} />
      {loop && (loop[0] !== 0 || loop[1] !== length) && (
        <Button size="small" color="inherit" disabled={!operates} endIcon={<CloseIcon fontSize="inherit" />} onClick={() => act.loop(null)}>
          Goes round {clock((loop[0] ?? 0) / rate)} to {clock((loop[1] ?? length) / rate)}
        </Button>
      )}
      <Alone operates={operates} />
      <Marks take={take} length={length} act={act} operates={operates} />
      {late > 0 && (
        <Typography sx={{ color: "error.main", fontSize: 13 }}>
          {late} {late === 1 ? "block was" : "blocks were"} not ready in time and stayed silent.
        </Typography>
      )}
      {Object.entries(JSON.parse(failed) as Record<string, string>).map(([key, why]) => (
        <Typography key={key} sx={{ color: "error.main", fontSize: 13 }}>
          {take.files.find((file) => file.track === key)?.name ?? key} plays no more: {why}
        </Typography>
      ))}
    </Box>
  );
}

/** Which track is heard alone, and where. */
function Alone({ operates }: { operates: boolean }) {
  const key = useFrame((frame) => frame.deck?.playing?.solo ?? null);
  const lanes = useFrame((frame) => frame.deck?.playing?.solo_lanes.join(" and ") ?? "");
  const name = useShow().data?.tracks.find(({ id }) => id === key)?.name ?? key;
  const solo = useCommand("/api/playing/solo", "takes");
  if (key === null) return null;
  return (
    <Button
      size="small"
      color="inherit"
      disabled={!operates}
      endIcon={<CloseIcon fontSize="inherit" />}
      onClick={() => solo.mutate({ key: null })}
    >
      {name} alone on return lanes {lanes}
    </Button>
  );
}

type Transport = ReturnType<typeof useTransport>;

function useTransport() {
  const pause = useCommand("/api/playing/pause", "takes");
  const stop = useCommand("/api/playing/stop", "takes");
  const locate = useCommand("/api/playing/locate", "takes");
  const loop = useCommand("/api/playing/loop", "takes");
  return {
    pause: (on: boolean) => pause.mutate({ on }),
    stop: () => stop.mutate({}),
    locate: (frame: number) => locate.mutate({ frame: Math.max(0, Math.round(frame)) }),
    locateBar: (bar: number) => locate.mutate({ bar }),
    loop: (range: number[] | null) => loop.mutate({ loop: range?.map(Math.round) ?? null }),
  };
}

/** A time of the take, or a bar of the song that plays there. */
function GoTo({ onGo, onBar }: { onGo: (seconds: number) => void; onBar: (bar: number) => void }) {
  const [text, setText] = useState("");
  const [seconds, bar] = [typedTime(text), typedBar(text)];
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (bar !== null) onBar(bar);
        else if (seconds !== null) onGo(seconds);
        else return;
        setText("");
      }}
    >
      <TextField
        size="small"
        placeholder="m:ss, bar 9"
        value={text}
        error={text !== "" && seconds === null && bar === null && !/^b(a|ar)?\s*$/i.test(text)}
        onChange={({ target }) => setText(target.value)}
        slotProps={{ htmlInput: { "aria-label": "Go to minute and second, or to a bar" } }}
        sx={{ width: 106 }}
      />
    </form>
  );
}

/** Marks of the take: go there, or go round from there to the next. */
function Marks({ take, length, act, operates }: { take: Take; length: number; act: Transport; operates: boolean }) {
  if (take.marks.length === 0 || !operates) return null;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.5 }}>
      {take.marks.map((mark) => {
        const name = mark.label || clock(mark.frame / take.sample_rate_hz);
        return (
          <Box key={mark.id} sx={{ display: "flex", border: 1, borderColor: "divider", borderRadius: 1 }}>
            <Button size="small" color="inherit" onClick={() => act.locate(mark.frame)}>
              {name}
            </Button>
            <IconButton
              size="small"
              aria-label={`Go round from ${name} to the next mark`}
              onClick={() => act.loop(betweenMarks(take.marks, mark.frame, length))}
            >
              <RepeatIcon fontSize="inherit" />
            </IconButton>
          </Box>
        );
      })}
    </Box>
  );
}

interface StripProps {
  take: Take;
  length: number;
  position: number;
  loop: number[] | null;
  onLocate: ((frame: number) => void) | null;
  onLoop: (range: number[]) => void;
}

/** All of the take from afar: a press goes there, a drag goes round what it passes. */
function Strip({ take, length, position, loop, onLocate, onLoop }: StripProps) {
  const overview = useOverview(take.id, POINTS, null, false);
  const shape = useMemo(() => envelope(overview.data), [overview.data]);
  const [drag, setDrag] = useState<[number, number] | null>(null);
  const share = (frame: number) => `${(frame / Math.max(1, length)) * 100}%`;
  const place = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * length;
  };
  const done = () => {
    if (!drag) return;
    const [from, to] = [Math.min(...drag), Math.max(...drag)];
    if (to - from > length * 0.01) onLoop([from, to]);
    else onLocate?.(from);
    setDrag(null);
  };
  const byKey = (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: -STEP_S, ArrowRight: STEP_S }[event.key];
    if (event.key === "Home") onLocate?.(0);
    else if (by !== undefined) onLocate?.(Math.min(length - 1, position + by * take.sample_rate_hz));
    else return;
    event.preventDefault();
  };
  const shown = drag ? [Math.min(...drag), Math.max(...drag)] : loop && (loop[0] !== 0 || loop[1] !== length) ? loop : null;
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`Place in ${take.name}`}
      aria-valuemin={0}
      aria-valuemax={Math.round(length / take.sample_rate_hz)}
      aria-valuenow={Math.round(position / take.sample_rate_hz)}
      aria-valuetext={clock(position / take.sample_rate_hz)}
      onKeyDown={byKey}
      onPointerDown={(event) => onLocate && setDrag([place(event), place(event)])}
      onPointerMove={(event) => drag && setDrag([drag[0], place(event)])}
      onPointerUp={done}
      onPointerLeave={() => setDrag(null)}
      sx={{
        position: "relative",
        height: HEIGHT_PX,
        mt: 1,
        cursor: onLocate ? "pointer" : "default",
        touchAction: "pan-y",
        overflow: "hidden",
      }}
    >
      <Envelope shape={shape} share={take.frames / Math.max(1, length)} />
      {shown && (
        <Box
          sx={{ position: "absolute", top: 0, bottom: 0, bgcolor: "primary.main", opacity: 0.22 }}
          style={{ left: share(shown[0] ?? 0), width: share((shown[1] ?? length) - (shown[0] ?? 0)) }}
        />
      )}
      {take.marks.map((mark) => (
        <Box
          key={mark.id}
          sx={{ position: "absolute", top: 0, bottom: 0, borderLeft: "1px dashed", borderColor: "text.secondary" }}
          style={{ left: share(mark.frame) }}
        />
      ))}
      <Box
        data-testid="playhead"
        sx={{ position: "absolute", top: 0, bottom: 0, width: 2, bgcolor: "text.primary" }}
        style={{ left: share(position) }}
      />
    </Box>
  );
}

function Envelope({ shape, share }: { shape: [number, number][]; share: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another theme paints the same values anew
  useEffect(() => {
    const box = canvas.current;
    const pen = box?.getContext("2d");
    if (!box || !pen) return;
    box.width = box.clientWidth;
    pen.fillStyle = getComputedStyle(box).color;
    const tall = (value: number) => Math.sqrt(Math.abs(value) / 32768) * Math.sign(value) * (HEIGHT_PX / 2);
    const wide = (box.width * share) / Math.max(1, shape.length);
    shape.forEach(([low, high], at) => {
      const top = HEIGHT_PX / 2 - tall(high);
      pen.fillRect(at * wide, top, Math.max(1, wide - 0.5), Math.max(1, HEIGHT_PX / 2 - tall(low) - top));
    });
  }, [shape, share, theme.palette.mode]);
  return (
    <Box
      component="canvas"
      ref={canvas}
      height={HEIGHT_PX}
      aria-hidden
      sx={{ width: "100%", height: HEIGHT_PX, color: "text.secondary" }}
    />
  );
}
