import ArrowBackIcon from "@mui/icons-material/ArrowBack";
import ArrowForwardIcon from "@mui/icons-material/ArrowForward";
import CloseIcon from "@mui/icons-material/Close";
import { Box, Button, IconButton, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { Figure } from "../../ui/KeptField";
import { Swatch } from "../../ui/Swatch";

type Arrangement = WholeSong["arrangements"][number];

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { arrangements: Arrangement[] }) => void;
}

/** Orders in which the song's sections are played: again, otherwise, or without some. */
export function ArrangementsPart({ song, onEdit }: Props) {
  const [name, setName] = useState("");
  const all = song.arrangements;
  const good = name.trim() !== "" && !all.some((one) => one.name === name.trim());
  const add = () => {
    if (!good) return;
    onEdit(`Arrangement ${name.trim()}`, { arrangements: [...all, { name: name.trim(), parts: song.sections.map(({ id }) => id) }] });
    setName("");
  };
  const change = (changed: Arrangement, label: string) =>
    onEdit(label, { arrangements: all.map((one) => (one.name === changed.name ? changed : one)) });
  if (song.sections.length === 0) return null;
  return (
    <Box component="section" aria-label="Arrangements" sx={{ mt: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 700, mb: 1 }}>
        Arrangements
      </Typography>
      {all.map((one) => (
        <Order
          key={one.name}
          song={song}
          arrangement={one}
          onChange={(changed, label) => change(changed, label)}
          onRemove={() => onEdit(`No arrangement ${one.name}`, { arrangements: all.filter(({ name: other }) => other !== one.name) })}
        />
      ))}
      <Box sx={{ display: "flex", gap: 1 }}>
        <TextField
          size="small"
          label="New arrangement"
          value={name}
          onChange={({ target }) => setName(target.value)}
          onKeyDown={({ key }) => key === "Enter" && add()}
          sx={{ width: 200 }}
        />
        <Button size="small" variant="outlined" color="inherit" disabled={!good} onClick={add}>
          Add arrangement
        </Button>
      </Box>
    </Box>
  );
}

interface OrderProps {
  song: WholeSong;
  arrangement: Arrangement;
  onChange: (changed: Arrangement, label: string) => void;
  onRemove: () => void;
}

function Order({ song, arrangement, onChange, onRemove }: OrderProps) {
  const { name, parts } = arrangement;
  const section = (id: string) => song.sections.find((one) => one.id === id);
  const lay = (laid: string[], label: string) => onChange({ ...arrangement, parts: laid }, label);
  const move = (at: number, by: number) => {
    const laid = [...parts];
    const [part] = laid.splice(at, 1);
    if (part === undefined) return;
    laid.splice(at + by, 0, part);
    lay(laid, `${name}: ${section(part)?.name} ${by < 0 ? "earlier" : "later"}`);
  };
  return (
    <Box sx={{ mb: 1.5, border: 1, borderColor: "divider", borderRadius: 1, p: 1 }} data-arrangement={name}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
        <strong>{name}</strong>
        <Box sx={{ flex: 1 }} />
        <Figure
          label="Seams, ms"
          value={arrangement.crossfade_ms ?? 10}
          most={50}
          width={100}
          onKeep={(crossfade_ms) => onChange({ ...arrangement, crossfade_ms }, `${name}: seams of ${crossfade_ms} ms`)}
        />
        <Figure
          label="Rings on, ms"
          value={arrangement.tail_ms ?? 0}
          most={4000}
          width={120}
          onKeep={(tail_ms) => onChange({ ...arrangement, tail_ms }, `${name} rings on for ${tail_ms} ms`)}
        />
        <Button size="small" color="inherit" onClick={onRemove}>
          Remove {name}
        </Button>
      </Box>
      <Box component="ol" sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, p: 0, m: 0, mb: 1, listStyle: "none" }}>
        {parts.map((id, at) => (
          <Box
            component="li"
            // biome-ignore lint/suspicious/noArrayIndexKey: a section may stand in it more than once, its place tells it apart
            key={`${at}/${id}`}
            sx={{ display: "flex", alignItems: "center", border: 1, borderColor: "divider", borderRadius: 1, pl: 1, height: 36 }}
          >
            <Swatch colour={section(id)?.colour ?? null} stitch="solid" />
            <Box component="span" sx={{ px: 0.75 }}>
              {section(id)?.name ?? id}
            </Box>
            <IconButton
              size="small"
              aria-label={`${section(id)?.name} at ${at + 1} earlier`}
              disabled={at === 0}
              onClick={() => move(at, -1)}
            >
              <ArrowBackIcon fontSize="inherit" />
            </IconButton>
            <IconButton
              size="small"
              aria-label={`${section(id)?.name} at ${at + 1} later`}
              disabled={at === parts.length - 1}
              onClick={() => move(at, 1)}
            >
              <ArrowForwardIcon fontSize="inherit" />
            </IconButton>
            <IconButton
              size="small"
              aria-label={`No ${section(id)?.name} at ${at + 1}`}
              disabled={parts.length === 1}
              onClick={() =>
                lay(
                  parts.filter((_, other) => other !== at),
                  `${name}: no ${section(id)?.name} at ${at + 1}`,
                )
              }
            >
              <CloseIcon fontSize="inherit" />
            </IconButton>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap", alignItems: "center" }}>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          Then
        </Typography>
        {song.sections.map((one) => (
          <Button
            key={one.id}
            size="small"
            color="inherit"
            onClick={() => lay([...parts, one.id], `${name}: ${one.name} once more`)}
            aria-label={`${name}: add ${one.name}`}
          >
            + {one.name}
          </Button>
        ))}
      </Box>
    </Box>
  );
}
