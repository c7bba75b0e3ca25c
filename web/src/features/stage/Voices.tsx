import { Box, Button, Slider, ToggleButton, Typography } from "@mui/material";
import { useState } from "react";
import type { Song } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { inFile } from "../../model/levelOf";
import { Meter } from "../../ui/Meter";

const LEAST_DB = -40;
const MOST_DB = 10;

/** How loud each role of the song is while it plays, and which are not heard. */
export function Voices({ song }: { song: Song }) {
  const [open, setOpen] = useState(false);
  const mutedKeys = useFrame((frame) => (frame.deck?.playing?.muted ?? []).join("\n"));
  const mute = useCommand("/api/playing/mute");
  const muted = new Set(mutedKeys.split("\n").filter(Boolean));
  const roles = [...new Set(song.voices.map(({ role }) => role))].map((role) => ({
    role,
    keys: song.voices.filter((voice) => voice.role === role).map(({ key }) => key),
    lanes: [...new Set(song.voices.filter((voice) => voice.role === role).flatMap(({ lanes }) => lanes))],
  }));
  const all = roles.flatMap(({ keys }) => keys);
  const set = (keys: string[]) => mute.mutate({ keys });
  const off = (keys: string[]) => keys.every((key) => muted.has(key));
  if (!open)
    return (
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        Levels of the roles{muted.size > 0 ? `, ${roles.filter(({ keys }) => off(keys)).length} muted` : ""}
      </Button>
    );
  return (
    <Box component="section" aria-label="Levels of the roles" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5, width: "100%" }}>
      {roles.map(({ role, keys, lanes }) => {
        const others = all.filter((key) => !keys.includes(key));
        const alone = !off(keys) && others.length > 0 && others.every((key) => muted.has(key));
        return (
          <Box
            key={role}
            sx={{ display: "grid", gridTemplateColumns: { xs: "90px 1fr", sm: "110px 1fr 200px" }, gap: 2, alignItems: "center", mb: 0.5 }}
          >
            <Box sx={{ minWidth: 0 }}>
              <strong>{role}</strong>
              <LaneMeters role={role} lanes={lanes} />
            </Box>
            <Level role={role} keys={keys} />
            <Box sx={{ display: "flex", gap: 1, gridColumn: { xs: "1 / 3", sm: "auto" } }}>
              <ToggleButton
                value="mute"
                size="small"
                selected={off(keys)}
                onChange={() => set(off(keys) ? [...muted].filter((key) => !keys.includes(key)) : [...new Set([...muted, ...keys])])}
                aria-label={`${off(keys) ? "Muted" : "Mute"} ${role}`}
                sx={{ minHeight: 44, minWidth: 88 }}
              >
                {off(keys) ? "Muted" : "Mute"}
              </ToggleButton>
              <ToggleButton
                value="alone"
                size="small"
                selected={alone}
                onChange={() => set(alone ? [] : others)}
                aria-label={`${role} alone`}
                sx={{ minHeight: 44, minWidth: 88 }}
              >
                Alone
              </ToggleButton>
            </Box>
          </Box>
        );
      })}
      <Button color="inherit" onClick={() => setOpen(false)} sx={{ minHeight: 44 }}>
        Close the levels
      </Button>
    </Box>
  );
}

/** What sounds on the lanes of a role now, whatever else is on them. */
function LaneMeters({ role, lanes }: { role: string; lanes: number[] }) {
  return lanes.map((lane) => <LaneMeter key={lane} role={role} lane={lane} />);
}

function LaneMeter({ role, lane }: { role: string; lane: number }) {
  return <Meter of={inFile(lane)} label={`Lane ${lane} of ${role}`} height={6} />;
}

/** Sent while it is drawn: what is heard follows the hand. */
function Level({ role, keys }: { role: string; keys: string[] }) {
  const kept = useFrame((frame) => frame.deck?.playing?.gains_db?.[keys[0] ?? ""] ?? 0);
  const [drawn, setDrawn] = useState<number | null>(null);
  const trim = useCommand("/api/playing/trim");
  const send = (gain_db: number, done?: () => void) => {
    for (const key of keys) trim.mutate({ key, gain_db }, { onSettled: done });
  };
  const draw = (value: number) => {
    setDrawn(value);
    // One on its way at a time: the last one is sent when the hand lets go.
    if (!trim.isPending) send(value);
  };
  const shown = drawn ?? kept;
  return (
    <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
      <Slider
        value={shown}
        min={LEAST_DB}
        max={MOST_DB}
        step={0.5}
        onChange={(_, value) => draw(value as number)}
        onChangeCommitted={(_, value) => send(value as number, () => setDrawn(null))}
        aria-label={`Level of ${role}, dB`}
      />
      <Typography sx={{ width: 74, textAlign: "right", fontVariantNumeric: "tabular-nums", whiteSpace: "nowrap" }}>
        {shown > 0 ? "+" : shown < 0 ? "−" : ""}
        {Math.abs(shown).toFixed(1)} dB
      </Typography>
    </Box>
  );
}
