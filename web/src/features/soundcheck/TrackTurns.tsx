import HeadphonesIcon from "@mui/icons-material/Headphones";
import VolumeOffIcon from "@mui/icons-material/VolumeOff";
import { Box, ToggleButton, Tooltip } from "@mui/material";
import { useState } from "react";
import type { Track } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { useWidth } from "../../ui/useWidth";

const TRIM_DB = { min: -60, max: 12 };

/** A track that plays: not heard, heard alone on a pair of its own, louder or softer. The same for everybody who looks. */
export function TrackTurns({ track }: { track: Track }) {
  const muted = useFrame((frame) => frame.deck?.playing?.muted.join("\n") ?? "")
    .split("\n")
    .filter((key) => key !== "");
  const alone = useFrame((frame) => frame.deck?.playing?.solo === track.id);
  const trim = useFrame((frame) => frame.deck?.playing?.gains_db[track.id] ?? 0);
  const mute = useCommand("/api/playing/mute", "takes");
  const solo = useCommand("/api/playing/solo", "takes");
  const gain = useCommand("/api/playing/trim", "takes");
  const [typed, setTyped] = useState<string | null>(null);
  const size = useWidth() === "desk" ? 22 : 44;
  const silent = muted.includes(track.id);
  const keep = () => {
    const db = Number(typed?.replace(",", "."));
    if (typed !== null && Number.isFinite(db)) gain.mutate({ key: track.id, gain_db: Math.max(TRIM_DB.min, Math.min(TRIM_DB.max, db)) });
    setTyped(null);
  };
  return (
    <Box sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
      <Box
        component="input"
        inputMode="decimal"
        aria-label={`Trim of ${track.name}, dB`}
        value={typed ?? String(trim)}
        onChange={(event: React.ChangeEvent<HTMLInputElement>) => setTyped(event.target.value)}
        onBlur={keep}
        onKeyDown={(event: React.KeyboardEvent) => {
          if (event.key === "Enter") keep();
          if (event.key === "Escape") setTyped(null);
        }}
        sx={{
          width: 44,
          height: size,
          font: "inherit",
          textAlign: "right",
          color: trim === 0 ? "text.secondary" : "primary.main",
          bgcolor: "transparent",
          border: 1,
          borderColor: "divider",
          borderRadius: 0.5,
        }}
      />
      <Tooltip title={silent ? "Not heard" : "Take it out"}>
        <ToggleButton
          value="mute"
          size="small"
          color="primary"
          selected={silent}
          aria-label={`Take ${track.name} out`}
          onChange={() => mute.mutate({ keys: silent ? muted.filter((key) => key !== track.id) : [...muted, track.id] })}
          sx={{ width: size + 8, height: size, p: 0 }}
        >
          <VolumeOffIcon sx={{ fontSize: 15 }} />
        </ToggleButton>
      </Tooltip>
      <Tooltip title="Alone, on a pair of lanes that no return uses">
        <ToggleButton
          value="alone"
          size="small"
          color="primary"
          selected={alone}
          aria-label={`Hear ${track.name} alone`}
          onChange={() => solo.mutate({ key: alone ? null : track.id })}
          sx={{ width: size + 8, height: size, p: 0 }}
        >
          <HeadphonesIcon sx={{ fontSize: 15 }} />
        </ToggleButton>
      </Tooltip>
    </Box>
  );
}
