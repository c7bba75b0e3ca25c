import { Alert, Box, Button, ButtonBase, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { useSongPicture } from "../../api/library";
import { barAt, drawn, movedTo, type Section } from "../../model/sections";
import { useDye } from "../../ui/loom/dye";
import { useWidth } from "../../ui/useWidth";
import { Weft } from "../../ui/Weft";
import { Unmeasured } from "./Unmeasured";

const POINTS = 800;
const HEIGHT_PX = 76;
/** As many lines as can be told apart. */
const LINES_MAX = 100;

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { sections: Section[] }) => void;
}

/**
 * The song as one cloth, dyed by its sections: drag over bars to weave a section there, move the place where one begins
 * by its name.
 */
export function SongCloth({ song, onEdit }: Props) {
  const picture = useSongPicture(song.id, POINTS);
  const [held, setHeld] = useState<[number, number] | null>(null);
  const [chosen, setChosen] = useState<[number, number] | null>(null);
  const starts = picture.data?.bars ?? [];
  const bars = starts.length - 1;
  if (picture.error) return <Alert severity="error">{picture.error.message}</Alert>;
  if (!picture.data || bars < 1) return <Box sx={{ height: HEIGHT_PX + 32 }} />;
  const { frames, points } = picture.data;
  const share = (frame: number) => `${(frame / frames) * 100}%`;
  const frameOf = (bar: number) => starts[bar - 1] ?? frames;
  const place = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return barAt(starts, Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * frames);
  };
  const over = held && ([Math.min(...held), Math.max(...held) + 1] as [number, number]);
  const marked = over ?? chosen;
  const each = Math.ceil(bars / LINES_MAX);
  return (
    <Box sx={{ mb: 1.5 }}>
      <Box
        role="group"
        aria-label={`${song.title}, ${bars} bars`}
        sx={{
          position: "relative",
          height: HEIGHT_PX,
          cursor: "crosshair",
          touchAction: "pan-y",
          bgcolor: "background.default",
          display: "flex",
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setHeld([place(event), place(event)]);
        }}
        onPointerMove={(event) => held && setHeld([held[0], place(event)])}
        onPointerUp={() => {
          setChosen(over);
          setHeld(null);
        }}
        onPointerCancel={() => setHeld(null)}
      >
        <Weft
          points={points}
          pieces={[{ bar: 0, colour: "walnut" }, ...song.sections].map((section, at) => ({
            from: section.bar === 0 ? 0 : frameOf(section.bar),
            to: song.sections[at] ? frameOf(song.sections[at].bar) : frames,
            colour: section.colour ?? "walnut",
          }))}
          from={0}
          to={frames}
          colour="walnut"
          height={HEIGHT_PX}
          label={song.title}
        />
        {starts
          .slice(0, -1)
          .filter((_, at) => at % each === 0)
          .map((frame) => (
            <Box
              key={frame}
              sx={{ position: "absolute", top: 0, bottom: 0, width: "1px", bgcolor: "text.primary", opacity: 0.18, pointerEvents: "none" }}
              style={{ left: share(frame) }}
            />
          ))}
        {marked && (
          <Box
            sx={{ position: "absolute", top: 0, bottom: 0, bgcolor: "primary.main", opacity: 0.3, pointerEvents: "none" }}
            style={{ left: share(frameOf(marked[0])), width: share(frameOf(marked[1]) - frameOf(marked[0])) }}
          />
        )}
      </Box>
      <Beginnings song={song} starts={starts} frames={frames} onEdit={onEdit} />
      {points.length === 0 && <Unmeasured songs={[song.id]}>Nobody has measured this song yet: no waveform, no loudness.</Unmeasured>}
      {chosen ? (
        <Naming
          key={chosen.join()}
          from={chosen[0]}
          to={chosen[1]}
          onName={(name) => {
            onEdit(`${name} from bar ${chosen[0]}`.slice(0, 200), { sections: drawn(song.sections, chosen[0], chosen[1], name, bars) });
            setChosen(null);
          }}
          onLeave={() => setChosen(null)}
        />
      ) : (
        <Typography color="text.secondary" sx={{ fontSize: 12.5 }}>
          Drag over bars to make a section of them; a section's beginning moves by its name, with the pointer or the arrow keys.
        </Typography>
      )}
    </Box>
  );
}

/** Where each section begins, under the cloth, by its name. */
function Beginnings({ song, starts, frames, onEdit }: Props & { starts: number[]; frames: number }) {
  const dye = useDye();
  // As large as a finger where there is no mouse.
  const tall = useWidth() === "desk" ? 26 : 44;
  const [moving, setMoving] = useState<{ id: string; bar: number } | null>(null);
  const bars = starts.length - 1;
  const there = moving ? movedTo(song.sections, moving.id, moving.bar, bars) : song.sections;
  const keep = () => {
    const [was, is] = [song.sections, there].map((all) => all.find(({ id }) => id === moving?.id));
    if (was && is && was.bar !== is.bar) onEdit(`${is.name} from bar ${is.bar}`.slice(0, 200), { sections: there });
    setMoving(null);
  };
  return (
    <Box sx={{ position: "relative", height: tall + 4 }}>
      {there.map((section, at) => (
        <ButtonBase
          key={section.id}
          role="slider"
          aria-label={`Where ${section.name} begins`}
          aria-valuemin={1}
          aria-valuemax={bars}
          aria-valuenow={section.bar}
          aria-valuetext={`bar ${section.bar}`}
          title={`${section.name}, from bar ${section.bar}`}
          sx={{
            position: "absolute",
            top: 2,
            height: tall,
            justifyContent: "flex-start",
            overflow: "hidden",
            whiteSpace: "nowrap",
            font: "inherit",
            fontSize: 12.5,
            pl: 0.75,
            cursor: "ew-resize",
            touchAction: "none",
          }}
          style={{
            left: `${((starts[section.bar - 1] ?? 0) / frames) * 100}%`,
            width: `max(14px, ${(((starts[(there[at + 1]?.bar ?? bars + 1) - 1] ?? frames) - (starts[section.bar - 1] ?? 0)) / frames) * 100}%)`,
            borderLeft: `3px double ${dye(section.colour ?? "walnut")}`,
          }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setMoving({ id: section.id, bar: section.bar });
          }}
          onPointerMove={(event) => {
            if (moving?.id !== section.id || event.buttons === 0) return;
            const box = event.currentTarget.parentElement?.getBoundingClientRect();
            if (box) setMoving({ id: section.id, bar: barAt(starts, ((event.clientX - box.left) / box.width) * frames) });
          }}
          onPointerUp={keep}
          onKeyDown={(event) => {
            const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
            if (step) {
              event.preventDefault();
              setMoving({ id: section.id, bar: Math.max(1, Math.min(bars, section.bar + step)) });
            }
            if (event.key === "Enter") keep();
          }}
          onBlur={keep}
        >
          {section.name}
        </ButtonBase>
      ))}
    </Box>
  );
}

interface NamingProps {
  from: number;
  to: number;
  onName: (name: string) => void;
  onLeave: () => void;
}

function Naming({ from, to, onName, onLeave }: NamingProps) {
  const [name, setName] = useState("");
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) onName(name.trim());
      }}
    >
      <Typography sx={{ fontSize: 13 }}>{to - from === 1 ? `Bar ${from}` : `Bars ${from} to ${to - 1}`}</Typography>
      <TextField
        size="small"
        label="Section's name"
        value={name}
        autoFocus
        onChange={({ target }) => setName(target.value)}
        onKeyDown={(event) => {
          // Only this, not the whole song.
          if (event.key === "Escape") event.stopPropagation();
          if (event.key === "Escape") onLeave();
        }}
        slotProps={{ htmlInput: { maxLength: 100 } }}
        sx={{ width: 200 }}
      />
      <Button type="submit" size="small" variant="outlined" color="inherit" disabled={!name.trim()}>
        Make the section
      </Button>
      <Button size="small" color="inherit" onClick={onLeave}>
        Not now
      </Button>
    </Box>
  );
}
