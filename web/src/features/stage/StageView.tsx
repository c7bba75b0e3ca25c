import { Box, Button, MenuItem, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { Link } from "react-router";
import type { Show } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { minutes } from "../../model/format";
import { sectionAt, songAt } from "../../model/sections";
import { comesNext, setLength } from "../../model/setList";
import { NoticeLine } from "../../ui/notice";
import { TempoChoice } from "../../ui/TempoChoice";
import { useWidth } from "../../ui/useWidth";
import { Cloth } from "./Cloth";
import { NightLog } from "./NightLog";
import { StageButtons, stageKeys } from "./StageButtons";
import { Voices } from "./Voices";

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
  const paused = useFrame((frame) => frame.deck?.playing?.paused ?? false);
  const position = useFrame((frame) => frame.deck?.playing?.position_frames ?? 0);
  const bar = useFrame((frame) => frame.deck?.playing?.place?.[0] ?? null);
  const beat = useFrame((frame) => frame.deck?.playing?.place?.[1] ?? null);
  const loopFrom = useFrame((frame) => frame.deck?.playing?.loop?.[0] ?? null);
  const silent = useFrame((frame) => frame.deck_silent_s);
  const percent = useFrame((frame) => frame.deck?.playing?.percent ?? null);
  const listed = show.songs.find(({ id }) => key === `song/${id}`);
  const loaded = listed ? songAt(listed, percent) : null;
  const playing = paused ? null : loaded;
  const standing = paused ? loaded : null;
  const [chosen, setChosen] = useChosen(show.songs, playing, standing);
  const song = playing ?? chosen;
  const place = show.songs.findIndex(({ id }) => id === song?.id);
  const { now, next } = song && playing ? sectionAt(song.sections, position) : { now: null, next: song?.sections[0] ?? null };
  const loop = useCommand("/api/playing/loop");
  const round = playing !== null && loopFrom !== null;
  const turnRound = () => playing && loop.mutate({ loop: round ? null : now ? [now.from_frame, now.to_frame] : [0] });
  const jump = useCommand("/api/playing/jump");
  const armedIn = useFrame((frame) => frame.deck?.playing?.armed?.[1] ?? null);
  const armedFrame = useFrame((frame) => frame.deck?.playing?.armed?.[0] ?? null);
  const armedPercent = useFrame((frame) => frame.deck?.playing?.armed_percent ?? null);
  const [at, setAt] = useState<JumpAt>("section");
  const arm = (section: Section | undefined) => {
    if (!playing || !section) return;
    const end = at === "section" && now ? { at_frame: now.to_frame } : { at: at === "beat" ? "beat" : "bar" };
    jump.mutate({ frame: section.from_frame, ...end });
  };
  const letGo = () => armedIn !== null && jump.mutate({ frame: null });
  const keys = { enabled: () => operates && stageKeys(), preventDefault: true };
  useHotkeys("escape", letGo, keys);
  useHotkeys("1,2,3,4,5,6,7,8,9", (event) => arm(song?.sections[Number(event.key) - 1]), keys);
  useHotkeys("r", turnRound, keys);
  if (!song)
    return (
      <Frame show={show} back={back} place="">
        <Typography sx={{ fontSize: 28, m: "auto" }}>No song in the set list yet: put one there at Tracks.</Typography>
      </Frame>
    );
  const left_s = (playing ? song.playing_frames - position : song.playing_frames) / song.sample_rate_hz;
  const behind = show.songs.slice(place + 1);
  const set_s = left_s + setLength([song, ...behind]).all_s - song.playing_frames / song.sample_rate_hz;
  const aim = (armedPercent === null ? song : songAt(song, armedPercent)).sections.find(({ from_frame }) => from_frame === armedFrame);
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
          {song.listed.key && (
            <Box component="span" sx={{ color: "text.secondary", fontWeight: 400, ml: 1.5, fontSize: "0.7em" }}>
              {song.listed.key}
            </Box>
          )}
        </Typography>
        <Typography color="text.secondary" sx={{ whiteSpace: "nowrap" }}>
          {song.bars === null ? "" : "bar · beat"}
        </Typography>
      </Box>
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, alignItems: "flex-end", flexWrap: "wrap" }}>
        <Typography data-testid="section" sx={{ fontSize: phone ? 44 : 88, fontWeight: 800, lineHeight: 1.05, minWidth: 0 }}>
          {playing ? (bar !== null && bar < 1 ? "Count-in" : (now?.name ?? "")) : "Ready"}
        </Typography>
        <Typography
          data-testid="bar"
          sx={{ fontSize: phone ? 72 : 130, fontWeight: 800, lineHeight: 1, fontVariantNumeric: "tabular-nums", whiteSpace: "nowrap" }}
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
        <span style={{ textAlign: "right" }}>
          {minutes(Math.max(0, left_s))} {playing ? "left in the song" : "long"}
          {behind.length > 0 && `, ${minutes(Math.max(0, set_s))} in the set`}
        </span>
      </Box>
      {(playing ? now : next)?.note && (
        <Typography data-testid="note" sx={{ fontSize: phone ? 20 : 28, whiteSpace: "pre-line" }}>
          {(playing ? now : next)?.note}
        </Typography>
      )}
      <Cloth song={song} position={playing ? position : 0} />
      <Standing
        song={song}
        armedIn={armedIn}
        aim={`${armedPercent === null ? "" : `${armedPercent} % from `}${aim?.name ?? (armedFrame === null ? "a stop" : "a jump")}`}
        operates={operates}
      />
      {operates && song.sections.length > 0 && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
          {song.sections.map((section, index) => (
            <Button
              key={section.from_frame}
              variant={section.from_frame === armedFrame && armedPercent === null ? "contained" : "outlined"}
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
          {armedIn !== null && (
            <Button color="inherit" onClick={letGo} sx={{ minHeight: 44 }}>
              {armedFrame === null ? "Let the stop go" : armedPercent === null ? "Let the jump go" : "Keep the tempo"}
            </Button>
          )}
        </Box>
      )}
      {operates && (
        <StageButtons
          song={song}
          playing={playing !== null}
          standing={standing?.id === song.id}
          round={round}
          onRound={turnRound}
          before={show.songs[place - 1]}
          following={behind[0]}
          onChoose={setChosen}
        >
          {playing ? <TempoWhilePlaying song={playing} armed={armedPercent} /> : <TempoChoice song={song} tall />}
          {playing && <Voices song={playing} />}
          <NightLog />
        </StageButtons>
      )}
      <Typography sx={{ fontSize: phone ? 18 : 24, fontWeight: 700, mt: "auto" }}>{comesNext(behind[0], song.listed)}</Typography>
    </Frame>
  );
}

/** Another of the tempi that lie ready, from the section's end. */
function TempoWhilePlaying({ song, armed }: { song: Song; armed: number | null }) {
  const change = useCommand("/api/playing/tempo");
  if (song.tempi.length === 0) return null;
  return (
    <TextField
      select
      size="small"
      label="Tempo from the section's end"
      value={armed ?? song.percent}
      onChange={({ target }) => change.mutate({ percent: Number(target.value) })}
      sx={{ minWidth: 210, "& .MuiInputBase-root": { minHeight: 44 } }}
    >
      {[...new Set([100, ...song.tempi])].map((percent) => (
        <MenuItem key={percent} value={percent} disabled={percent === song.percent}>
          {percent === 100 ? "its own" : `${percent} %`}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What is about to happen, and what is not as it should be. */
function Standing({ song, armedIn, aim, operates }: { song: Song; armedIn: number | null; aim: string; operates: boolean }) {
  const phone = useWidth() === "phone";
  const hushed = useFrame((frame) => frame.deck?.playing?.hushed ?? false);
  const fading = useFrame((frame) => frame.deck?.playing?.fading ?? false);
  const idle = useFrame((frame) => frame.deck?.playing == null);
  const nextLabel = useFrame((frame) => frame.deck?.next?.label ?? null);
  const nextFailed = useFrame((frame) => frame.deck?.next?.failed ?? null);
  const nextIn = useFrame((frame) => frame.deck?.next?.in_s ?? null);
  const said = [
    armedIn !== null && `armed: ${aim}, in ${Math.ceil(armedIn / song.sample_rate_hz)} s${operates ? " · Escape lets it go" : ""}`,
    hushed && "silent on every lane; the song goes on unheard",
    fading && "fading out",
    idle && nextIn !== null && `${nextLabel} begins in ${Math.ceil(nextIn)} s`,
    nextFailed && `${nextLabel} cannot be played next: ${nextFailed}`,
  ].filter(Boolean);
  return (
    <Typography role="status" sx={{ color: "error.main", fontWeight: 700, fontSize: phone ? 16 : 20, textAlign: "center", minHeight: 30 }}>
      {said.join(" · ")}
    </Typography>
  );
}

/** The song that waits for Go: what stands ready on the deck, or somebody's choice; when one is over, the one behind it. */
function useChosen(songs: Song[], playing: Song | null, standing: Song | null): [Song | null, (song: Song | null) => void] {
  const [id, setId] = useState<string | null>(null);
  const last = playing?.id ?? null;
  const stands = standing?.id ?? null;
  const [before, setBefore] = useState<string | null>(null);
  useEffect(() => {
    if (last === null && before !== null) {
      const at = songs.findIndex((song) => song.id === before);
      setId(songs[at + 1]?.id ?? before);
    }
    setBefore(last);
  }, [last, before, songs]);
  useEffect(() => {
    if (stands) setId(stands);
  }, [stands]);
  return [songs.find((song) => song.id === id) ?? songs[0] ?? null, (song) => setId(song?.id ?? null)];
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
        gap: { xs: 1.5, md: 1.5 },
        p: { xs: 2, md: 3 },
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
