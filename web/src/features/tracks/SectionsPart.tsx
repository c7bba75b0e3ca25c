import CloseIcon from "@mui/icons-material/Close";
import { Box, Button, IconButton, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { type Section, withSection } from "../../model/sections";
import { Line } from "../../ui/KeptField";
import { Swatch } from "../../ui/Swatch";
import { SongCloth } from "./SongCloth";

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { sections: Section[] }) => void;
}

/** The song's parts by name, each from its bar to the next one's. */
export function SectionsPart({ song, onEdit }: Props) {
  const [bar, setBar] = useState("");
  const [name, setName] = useState("");
  const fresh = song.markers.filter((marker) => marker.label && !song.sections.some((section) => section.bar === marker.bar));
  const at = Number(bar);
  const good = Number.isInteger(at) && at >= 1 && at <= 20_000 && name.trim() !== "";
  const add = () => {
    if (!good) return;
    onEdit(`${name.trim()} from bar ${at}`, { sections: withSection(song.sections, at, name.trim()) });
    setBar("");
    setName("");
  };
  return (
    <Box component="section" aria-label="Sections" sx={{ mt: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 700, mb: 1 }}>
        Sections
      </Typography>
      <SongCloth song={song} onEdit={onEdit} />
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", mb: 1 }}>
        {song.sections.map((section) => (
          <Box
            key={section.id}
            sx={{ display: "flex", alignItems: "center", gap: 1, border: 1, borderColor: "divider", borderRadius: 1, pl: 1, height: 36 }}
          >
            <Swatch colour={section.colour ?? null} stitch="solid" />
            <span>
              {section.name}
              <Box component="span" sx={{ color: "text.secondary" }}>
                {" "}
                bar {section.bar}
              </Box>
            </span>
            <IconButton
              size="small"
              aria-label={`No section ${section.name}`}
              onClick={() => onEdit(`No section ${section.name}`, { sections: song.sections.filter(({ id }) => id !== section.id) })}
            >
              <CloseIcon fontSize="small" />
            </IconButton>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(280px, 1fr))", gap: 1.5, mb: 1.5 }}>
        {song.sections.map((section) => (
          <Line
            key={section.id}
            label={`Note on stage: ${section.name}`}
            value={section.note ?? ""}
            onKeep={(note) =>
              onEdit(`Note on ${section.name}`.slice(0, 200), {
                sections: song.sections.map((one) => (one.id === section.id ? { ...one, note } : one)),
              })
            }
          />
        ))}
      </Box>
      {fresh.length > 0 && (
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          sx={{ mb: 1.5 }}
          onClick={() =>
            onEdit("Sections from the stems' markers", {
              sections: fresh.reduce<Section[]>((all, marker) => withSection(all, marker.bar, marker.label), song.sections),
            })
          }
        >
          Take the stems' markers: {fresh.map(({ label, bar: from }) => `${label} (bar ${from})`).join(", ")}
        </Button>
      )}
      <Box sx={{ display: "flex", gap: 1 }}>
        <TextField
          size="small"
          label="From bar"
          value={bar}
          onChange={({ target }) => setBar(target.value)}
          onKeyDown={({ key }) => key === "Enter" && add()}
          sx={{ width: 100 }}
        />
        <TextField
          size="small"
          label="Section"
          value={name}
          onChange={({ target }) => setName(target.value)}
          onKeyDown={({ key }) => key === "Enter" && add()}
          sx={{ width: 200 }}
        />
        <Button size="small" variant="outlined" color="inherit" disabled={!good} onClick={add}>
          Add
        </Button>
      </Box>
    </Box>
  );
}
