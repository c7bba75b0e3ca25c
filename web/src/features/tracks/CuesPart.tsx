import { Box, Button, FormControlLabel, MenuItem, Switch, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { useCommand } from "../../api/command";
import { useOwnSounds } from "../../api/library";
import { BringSound, OwnSoundField } from "./OwnSounds";

type Cues = WholeSong["cues"];

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { cues: Cues }) => void;
}

const LANGUAGES: [NonNullable<Cues["language"]>, string][] = [
  ["en-gb", "English"],
  ["da", "Danish"],
  ["nl", "Dutch"],
  ["fi", "Finnish"],
  ["fr-fr", "French"],
  ["de", "German"],
  ["it", "Italian"],
  ["nb", "Norwegian"],
  ["pl", "Polish"],
  ["pt", "Portuguese"],
  ["es", "Spanish"],
  ["sv", "Swedish"],
];

/** What is read out to the band: names of sections a bar before, the count-in, and words at bars. */
export function CuesPart({ song, onEdit }: Props) {
  const { cues } = song;
  const speak = useCommand(`/api/library/songs/${song.id}/cues`, "tasks");
  const keep = (label: string, change: Partial<Cues>) => onEdit(label, { cues: { ...cues, ...change } });
  const said = cues.said ?? [];
  return (
    <Box component="section" aria-label="Spoken cues" sx={{ mt: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 700, mb: 0.5 }}>
        Spoken cues
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap", alignItems: "center" }}>
        <FormControlLabel
          control={
            <Switch size="small" checked={cues.sections ?? false} onChange={(_, sections) => keep("Cues of sections", { sections })} />
          }
          label="Sections, a bar before"
        />
        <FormControlLabel
          control={
            <Switch size="small" checked={cues.count_in ?? false} onChange={(_, count_in) => keep("Count-in spoken", { count_in })} />
          }
          label="Count-in"
        />
        <TextField
          select
          size="small"
          label="Language"
          value={cues.language ?? "en-gb"}
          onChange={({ target }) => keep("Language of the cues", { language: target.value as NonNullable<Cues["language"]> })}
          sx={{ minWidth: 140 }}
        >
          {LANGUAGES.map(([code, name]) => (
            <MenuItem key={code} value={code}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      </Box>
      {said.map((one) => (
        <Box key={`${one.bar} ${one.text} ${one.sound ?? ""}`} sx={{ display: "flex", gap: 1, alignItems: "center", minHeight: 36 }}>
          <Typography sx={{ width: 70 }}>bar {one.bar}</Typography>
          <Typography sx={{ flex: 1 }}>{one.sound ? `sound: ${one.text}` : `“${one.text}”`}</Typography>
          <Button
            size="small"
            color="inherit"
            aria-label={`Take out: ${one.text}`}
            onClick={() => keep(`Without “${one.text}”`.slice(0, 200), { said: said.filter((other) => other !== one) })}
          >
            Take out
          </Button>
        </Box>
      ))}
      <Words
        onAdd={(bar, text, sound) =>
          keep(`“${text}” at bar ${bar}`.slice(0, 200), {
            said: [...said, { bar, text, ...(sound ? { sound } : {}) }].sort((a, b) => a.bar - b.bar),
          })
        }
      />
      {song.unspoken > 0 && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1, fontSize: 13 }} role="status">
          <span>
            {song.unspoken} {song.unspoken === 1 ? "phrase is" : "phrases are"} not spoken yet.
          </span>
          <Button size="small" color="inherit" onClick={() => speak.mutate({})}>
            Speak now
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** Words that are read out, or a sound that was brought, which is called by its own name. */
function Words({ onAdd }: { onAdd: (bar: number, text: string, sound?: string) => void }) {
  const [bar, setBar] = useState("");
  const [text, setText] = useState("");
  const [sound, setSound] = useState<string | undefined>();
  const sounds = useOwnSounds();
  const chosen = sounds.data?.find(({ id }) => id === sound);
  const at = Number(bar);
  const good = Number.isInteger(at) && at >= 1 && at <= 20000 && (chosen !== undefined || text.trim() !== "");
  return (
    <Box
      component="form"
      sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap", mt: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!good) return;
        onAdd(at, chosen?.name ?? text.trim(), chosen?.id);
        setBar("");
        setText("");
        setSound(undefined);
      }}
    >
      <TextField
        size="small"
        label="At bar"
        value={bar}
        onChange={({ target }) => setBar(target.value)}
        slotProps={{ htmlInput: { inputMode: "numeric" } }}
        sx={{ width: 90 }}
      />
      <TextField
        size="small"
        label="Words"
        value={text}
        onChange={({ target }) => setText(target.value)}
        disabled={chosen !== undefined}
        slotProps={{ htmlInput: { maxLength: 200 } }}
        sx={{ flex: 1, minWidth: 180, maxWidth: 360 }}
      />
      <OwnSoundField label="Or a sound" value={sound} none="None" onChoose={setSound} />
      <Button type="submit" variant="outlined" color="inherit" disabled={!good}>
        {chosen ? "Play it there" : "Say it"}
      </Button>
      <BringSound to="a cue" onBrought={({ id }) => setSound(id)} />
    </Box>
  );
}
