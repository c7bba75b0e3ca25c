import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link } from "react-router";
import type { Show } from "../../api/client";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useCommand } from "../../api/queries";
import { clock } from "../../model/format";
import { sectionAt } from "../../model/sections";
import { HoldButton } from "../../ui/HoldButton";
import { NoticeLine } from "../../ui/notice";
import { useWidth } from "../../ui/useWidth";
import { Cloth } from "./Cloth";

type Song = Show["songs"][number];
type Section = Song["sections"][number];
type JumpAt = "beat" | "bar" | "section";

/** What a jump that is armed waits for. */
const JUMPS: [JumpAt, string][] = [
  ["beat", "the beat"],
  ["bar", "the bar"],
  ["section", "the section's end"],
];

/** What plays, readable from two metres; whoever operates has the keys, all others look on. */
export function StageView({ show, back }: { show: Show; back: string }) {
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const key = useFrame((frame) => frame.deck?.playing?.key ?? null);
  const position = useFrame((frame) => frame.deck?.playing?.position_frames ?? 0);
  const bar = useFrame((frame) => frame.deck?.playing?.place?.[0] ?? null);
  const beat = useFrame((frame) => frame.deck?.playing?.place?.[1] ?? null);
  const loopFrom = useFrame((frame) => frame.deck?.playing?.loop?.[0] ?? null);
  const silent = useFrame((frame) => frame.deck_silent_s);
  const playing = show.songs.find(({ id }) => key === `song/${id}`) ?? null;
  const [chosen, setChosen] = useChosen(show.songs, playing);
  const song = playing ?? chosen;
  const place = song ? show.songs.indexOf(song) : -1;
  const { now, next } = song && playing ? sectionAt(song.sections, position) : { now: null, next: song?.sections[0] ?? null };
  const stop = useCommand("/api/playing/stop");
  const loop = useCommand("/api/playing/loop");
  const round = playing !== null && loopFrom !== null;
  const turnRound = () => playing && loop.mutate({ loop: round ? null : now ? [now.from_frame, now.to_frame] : [0] });
  const move = (by: number) => !playing && setChosen(show.songs[place + by] ?? song);
  const jump = useCommand("/api/playing/jump");
  const armedFrame = useFrame((frame) => frame.deck?.playing?.armed?.[0] ?? null);
  const armedIn = useFrame((frame) => frame.deck?.playing?.armed?.[1] ?? 0);
  const [at, setAt] = useState<JumpAt>("section");
  const arm = (section: Section | undefined) => {
    if (!playing || !section) return;
    const end = at === "section" && now ? { at_frame: now.to_frame - 1 } : { at: at === "beat" ? "beat" : "bar" };
    jump.mutate({ frame: section.from_frame, ...end });
  };
  const letGo = () => armedFrame !== null && jump.mutate({ frame: null });
  const keys = { enabled: operates, preventDefault: true };
  useHotkeys("escape", letGo, keys);
  useHotkeys("1,2,3,4,5,6,7,8,9", (event) => arm(song?.sections[Number(event.key) - 1]), keys);
  useHotkeys("n", () => move(1), keys);
  useHotkeys("p", () => move(-1), keys);
  useHotkeys("r", turnRound, keys);
  if (!song)
    return (
      <Frame show={show} back={back} place="">
        <Typography sx={{ fontSize: 28, m: "auto" }}>No song in the set list yet: put one there at Tracks.</Typography>
      </Frame>
    );
  const left = playing ? song.playing_frames - position : song.playing_frames;
  const following = show.songs[place + 1];
  const aim = song.sections.find(({ from_frame }) => from_frame === armedFrame);
  return (
    <Frame show={show} back={back} place={`song ${place + 1} of ${show.songs.length}`}>
      {silent !== null && (
        <Typography role="alert" sx={{ color: "error.main", fontWeight: 700, fontSize: 22 }}>
          The deck does not answer: what is shown is as it was {Math.round(silent)} s ago.
        </Typography>
      )}
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, alignItems: "baseline" }}>
        <Typography component="h1" sx={{ fontSize: phone ? 26 : 34, fontWeight: 700 }}>
          {song.title}
        </Typography>
        <Typography color="text.secondary" sx={{ whiteSpace: "nowrap" }}>
          {song.bars === null ? "" : "bar · beat"}
        </Typography>
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, alignItems: "flex-end", flexWrap: "wrap" }}>
        <Typography data-testid="section" sx={{ fontSize: phone ? 44 : 96, fontWeight: 800, lineHeight: 1.05, minWidth: 0 }}>
          {playing ? (bar !== null && bar < 1 ? "Count-in" : (now?.name ?? "")) : "Ready"}
        </Typography>
        <Typography
          data-testid="bar"
          sx={{ fontSize: phone ? 72 : 150, fontWeight: 800, lineHeight: 1, fontVariantNumeric: "tabular-nums", whiteSpace: "nowrap" }}
        >
          {playing && bar !== null ? (bar < 1 ? bar - 1 : bar) : "–"}
          <Box component="span" sx={{ color: "text.secondary", fontSize: "0.5em" }}>
            {playing && beat !== null ? ` · ${beat}` : ""}
          </Box>
        </Typography>
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, fontSize: phone ? 18 : 24, color: "text.secondary" }}>
        <span>
          {round
            ? `${now?.name ?? song.title} goes round until it is let go`
            : next
              ? `${playing ? "then" : "begins with"} ${next.name}`
              : ""}
        </span>
        <span style={{ whiteSpace: "nowrap" }}>
          {clock(Math.max(0, left) / song.sample_rate_hz)} {playing ? "left in the song" : "long"}
        </span>
      </Box>
      <Cloth song={song} position={playing ? position : 0} />
      <Typography
        role="status"
        sx={{ color: "error.main", fontWeight: 700, fontSize: phone ? 16 : 20, textAlign: "center", minHeight: 30 }}
      >
        {armedFrame !== null &&
          `armed: ${aim?.name ?? "a jump"}, in ${Math.ceil(armedIn / song.sample_rate_hz)} s${operates ? " · Escape lets it go" : ""}`}
      </Typography>
      {operates && song.sections.length > 0 && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          {song.sections.map((section, index) => (
            <Button
              key={section.id}
              variant={section.from_frame === armedFrame ? "contained" : "outlined"}
              color="inherit"
              disabled={!playing}
              onClick={() => arm(section)}
              sx={{ minHeight: 44 }}
            >
              {section.name}
              {index < 9 && !phone ? ` (${index + 1})` : ""}
            </Button>
          ))}
          <ToggleButtonGroup
            size="small"
            exclusive
            value={at}
            onChange={(_, value) => value && setAt(value)}
            aria-label="Jumps wait for"
            sx={{ ml: "auto" }}
          >
            {JUMPS.map(([value, words]) => (
              <ToggleButton key={value} value={value} sx={{ minHeight: 44 }}>
                {words}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          {armedFrame !== null && (
            <Button color="inherit" onClick={letGo} sx={{ minHeight: 44 }}>
              Let the jump go
            </Button>
          )}
        </Box>
      )}
      {operates && (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: phone ? "1fr 1fr" : "repeat(5, 1fr)",
            gap: 1.5,
            "& button": { minHeight: phone ? 64 : 84, fontSize: 18 },
          }}
        >
          <Go song={song} playing={playing !== null} />
          <HoldButton label="Stop (hold)" onHeld={() => stop.mutate({})} />
          <Button variant="outlined" color="inherit" disabled={!playing} aria-pressed={round} onClick={turnRound}>
            {round ? "Let it go (R)" : "Round again (R)"}
          </Button>
          <Button variant="outlined" color="inherit" disabled={playing !== null || place <= 0} onClick={() => move(-1)}>
            Song before (P)
          </Button>
          <Button variant="outlined" color="inherit" disabled={playing !== null || !following} onClick={() => move(1)}>
            Next song (N)
          </Button>
        </Box>
      )}
      <Typography sx={{ fontSize: phone ? 18 : 24, fontWeight: 700, mt: "auto" }}>
        {following ? `Next: ${following.title}, waits for Go` : "The last song of the set"}
      </Typography>
    </Frame>
  );
}

/** The song that waits for Go: when one is over, the one behind it. */
function useChosen(songs: Song[], playing: Song | null): [Song | null, (song: Song | null) => void] {
  const [id, setId] = useState<string | null>(null);
  const last = playing?.id ?? null;
  const [before, setBefore] = useState<string | null>(null);
  useEffect(() => {
    if (last === null && before !== null) {
      const at = songs.findIndex((song) => song.id === before);
      setId(songs[at + 1]?.id ?? before);
    }
    setBefore(last);
  }, [last, before, songs]);
  return [songs.find((song) => song.id === id) ?? songs[0] ?? null, (song) => setId(song?.id ?? null)];
}

function Go({ song, playing }: { song: Song; playing: boolean }) {
  const play = useCommand(`songs/${song.id}/play`);
  const go = () => !playing && !play.isPending && play.mutate({});
  useHotkeys("space", go, { preventDefault: true });
  return (
    <Button variant="contained" disabled={playing || play.isPending} onClick={go}>
      Go (Space)
    </Button>
  );
}

function Frame({ show, back, place, children }: { show: Show; back: string; place: string; children: React.ReactNode }) {
  const [time, setTime] = useState(() => new Date());
  useEffect(() => {
    const timer = setInterval(() => setTime(new Date()), 1000);
    return () => clearInterval(timer);
  }, []);
  return (
    <Box
      component="main"
      sx={{
        flex: 1,
        minHeight: 0,
        overflow: "auto",
        display: "flex",
        flexDirection: "column",
        gap: 2,
        p: { xs: 2, md: 4 },
        bgcolor: "background.default",
      }}
    >
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        <Box component="strong" sx={{ display: { xs: "none", sm: "block" } }}>
          {show.name}
        </Box>
        <Typography color="text.secondary" sx={{ flex: 1, whiteSpace: "nowrap" }}>
          {place}
        </Typography>
        <Typography sx={{ fontVariantNumeric: "tabular-nums", fontWeight: 700 }}>
          {time.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", second: "2-digit", hour12: false })}
        </Typography>
        <Button component={Link} to={back} size="small" color="inherit" sx={{ whiteSpace: "nowrap" }}>
          Leave the stage
        </Button>
      </Box>
      {children}
      <NoticeLine />
    </Box>
  );
}
