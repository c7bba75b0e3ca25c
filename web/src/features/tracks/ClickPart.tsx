import { Box, Checkbox, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { WholeSong } from "../../api/client";
import { StartField } from "../../ui/StartField";
import { BringSound, OwnSoundField } from "./OwnSounds";

type ClickStyle = WholeSong["click"];

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { click?: ClickStyle; count_in_bars?: number; bar_1_frame?: number }) => void;
}

const SOUNDS: [NonNullable<ClickStyle["sound"]>, string][] = [
  ["beep", "Beep"],
  ["woodblock", "Wood block"],
  ["stick", "Stick"],
  ["tick", "Tick"],
  ["cowbell", "Cowbell"],
  ["own", "One of your own"],
];
const DIVISIONS: [number, string][] = [
  [1, "Beats alone"],
  [2, "In two"],
  [3, "In three"],
  [4, "In four"],
];
const PACES: [NonNullable<ClickStyle["pace"]>, string][] = [
  ["half", "Half time"],
  ["whole", "As it is"],
  ["double", "Double time"],
];

/** How the click sounds, what is counted in, and where bar 1 lies in the audio. */
export function ClickPart({ song, onEdit }: Props) {
  const { click } = song;
  // It is one's own once its beat has a sound.
  const [owning, setOwning] = useState(click.sound === "own");
  const change = (label: string, changed: ClickStyle) => onEdit(label, { click: { ...click, ...changed } });
  return (
    <Box component="section" aria-label="Click" sx={{ mt: 2 }}>
      <Typography component="h3" sx={{ fontWeight: 700, mb: 1 }}>
        Click
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <Choice
          label="Sound"
          value={owning ? "own" : (click.sound ?? "beep")}
          options={SOUNDS}
          onChoose={(sound) => {
            setOwning(sound === "own");
            if (sound !== "own" || click.own?.beat) change(`Click: ${sound}`, { sound });
          }}
        />
        <Accents
          accents={click.accents ?? [1]}
          onChange={(accents) => change(accents.length ? `Accent on ${accents.join(", ")}` : "No accent", { accents })}
        />
        <Choice
          label="Divided"
          value={click.subdivide ?? 1}
          options={DIVISIONS}
          onChoose={(subdivide) => change(`${subdivide} clicks a beat`, { subdivide })}
        />
        <Choice label="Pace" value={click.pace ?? "whole"} options={PACES} onChoose={(pace) => change(`Click: ${pace} pace`, { pace })} />
        <Level label="Level, dB" value={click.level_db ?? 0} onChange={(level_db) => change(`Click: ${level_db} dB`, { level_db })} />
        <Level
          label="Divisions, dB"
          value={click.subdivision_db ?? 0}
          onChange={(subdivision_db) => change(`Divisions: ${subdivision_db} dB`, { subdivision_db })}
        />
        <Choice
          label="Counted in"
          value={song.count_in_bars}
          options={[0, 1, 2, 4, 8].map((bars): [number, string] => [bars, bars === 0 ? "Nothing" : bars === 1 ? "1 bar" : `${bars} bars`])}
          onChoose={(count_in_bars) => onEdit(`${count_in_bars} bars counted in`, { count_in_bars })}
        />
        {song.sections.length > 0 && (
          <Sounding
            song={song}
            onChange={(sections) => change(sections ? "Click in chosen sections" : "Click in the whole song", { sections })}
          />
        )}
        {click.sections && (
          <Choice
            label="Before each"
            value={click.lead_bars ?? 0}
            options={[0, 1, 2, 4].map((bars): [number, string] => [bars, bars === 0 ? "Nothing" : bars === 1 ? "1 bar" : `${bars} bars`])}
            onChoose={(lead_bars) => change(`Click ${lead_bars} bars before each section`, { lead_bars })}
          />
        )}
        <Box>
          <Typography color="text.secondary" sx={{ fontSize: 12 }}>
            Bar 1 in the audio
          </Typography>
          <StartField
            name="Bar 1"
            frames={song.bar_1_frame}
            rateHz={song.sample_rate_hz}
            onStart={(bar_1_frame) => bar_1_frame !== song.bar_1_frame && onEdit("Where bar 1 lies", { bar_1_frame })}
          />
        </Box>
        {owning && <Own own={click.own ?? {}} onChange={(own) => change("Click of one's own", { sound: "own", own })} />}
      </Box>
    </Box>
  );
}

type Own = NonNullable<ClickStyle["own"]>;

/** What a click of one's own is made of; the beat comes first, the others may be it as well. */
function Own({ own, onChange }: { own: Own; onChange: (own: Own) => void }) {
  const choose = (part: keyof Own) => (id: string | undefined) => {
    const { [part]: _, ...rest } = own;
    const changed: Own = id === undefined ? rest : { ...own, [part]: id };
    if (changed.beat) onChange(changed);
  };
  return (
    <>
      <OwnSoundField label="Beat" value={own.beat} none="Choose a sound" onChoose={choose("beat")} />
      <OwnSoundField label="Accent" value={own.accent} none="The beat, louder" onChoose={choose("accent")} />
      <OwnSoundField label="Division" value={own.part} none="The beat, softer" onChoose={choose("part")} />
      <BringSound to="the click" onBrought={({ id }) => !own.beat && onChange({ ...own, beat: id })} />
    </>
  );
}

/** In which sections it sounds; all of them is the whole song. */
function Sounding({ song, onChange }: { song: WholeSong; onChange: (sections: string[] | null) => void }) {
  const all = song.sections.map(({ id }) => id);
  const chosen = song.click.sections ?? all;
  const words = (ids: string[]) =>
    song.sections
      .filter(({ id }) => ids.includes(id))
      .map(({ name }) => name)
      .join(", ");
  return (
    <TextField
      select
      size="small"
      label="Sounds in"
      value={chosen}
      onChange={({ target }) => {
        const ids = target.value as unknown as string[];
        onChange(all.every((id) => ids.includes(id)) ? null : all.filter((id) => ids.includes(id)));
      }}
      slotProps={{
        select: {
          multiple: true,
          displayEmpty: true,
          renderValue: (value) => (song.click.sections ? words(value as string[]) || "Count-in alone" : "Whole song"),
        },
        inputLabel: { shrink: true },
      }}
      sx={{ minWidth: 150, maxWidth: 240 }}
    >
      {song.sections.map(({ id, name }) => (
        <MenuItem key={id} value={id}>
          <Checkbox size="small" checked={chosen.includes(id)} sx={{ p: 0, mr: 1 }} tabIndex={-1} disableRipple />
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}

interface ChoiceProps<Value> {
  label: string;
  value: Value;
  options: [Value, string][];
  onChoose: (value: Value) => void;
}

function Choice<Value extends string | number>({ label, value, options, onChoose }: ChoiceProps<Value>) {
  const known = options.some(([one]) => one === value);
  return (
    <TextField
      select
      size="small"
      label={label}
      value={value}
      onChange={({ target }) => onChoose(target.value as Value)}
      sx={{ minWidth: 120 }}
    >
      {[...options, ...(known ? [] : [[value, String(value)] as [Value, string]])].map(([one, words]) => (
        <MenuItem key={one} value={one}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** "1, 3"; empty is no accent at all. */
function Accents({ accents, onChange }: { accents: number[]; onChange: (accents: number[]) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = (typed ?? "").split(/[\s,]+/).filter((part) => part !== "");
  const beats = read.map(Number);
  const wrong = typed !== null && beats.some((beat) => !Number.isInteger(beat) || beat < 1 || beat > 64);
  const keep = () => {
    if (typed !== null && !wrong && beats.join() !== accents.join()) onChange(beats);
    if (!wrong) setTyped(null);
  };
  return (
    <TextField
      size="small"
      label="Accented beats"
      value={typed ?? accents.join(", ")}
      error={wrong}
      placeholder="none"
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ width: 120 }}
    />
  );
}

function Level({ label, value, onChange }: { label: string; value: number; onChange: (db: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const db = Number((typed ?? "").replace(",", ".").replace("−", "-"));
  const wrong = typed !== null && !(typed.trim() !== "" && db >= -60 && db <= 12);
  const keep = () => {
    if (typed !== null && !wrong && db !== value) onChange(db);
    if (!wrong) setTyped(null);
  };
  return (
    <TextField
      size="small"
      label={label}
      value={typed ?? String(value).replace("-", "−")}
      error={wrong}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      sx={{ width: 110 }}
    />
  );
}
