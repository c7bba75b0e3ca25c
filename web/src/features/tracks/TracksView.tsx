import { Alert, Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Song } from "../../api/client";
import { useFrame } from "../../api/live";
import { useCommand, useLoom, useRig, useShowCommand, useTrace } from "../../api/queries";
import { clock } from "../../model/format";
import { Loom } from "../../ui/loom/Loom";
import { Meter } from "../../ui/Meter";
import { StepHead } from "../../ui/StepHead";
import { ThreadSentence } from "../../ui/ThreadSentence";

/** The set list, the loom from roles to listeners, and who hears what now. */
export function TracksView({ show, lit }: { show: Show; lit: string[] }) {
  const loom = useLoom("tracks");
  const [focus, setFocus] = useState<string | null>(null);
  const trace = useTrace(focus);
  const join = useShowCommand("/api/joins");
  return (
    <>
      <StepHead title="Tracks" hint="Every role of a stem goes to its own lane once, for the whole set list." />
      <Box sx={{ px: 2, display: "flex", gap: 2, flexWrap: "wrap" }}>
        <Box component="section" aria-label="Set list" sx={{ flex: "1 1 320px" }}>
          {show.songs.length === 0 && <Alert severity="info">No songs yet.</Alert>}
          {show.songs.map((song) => (
            <SongCard key={song.id} song={song} />
          ))}
        </Box>
        <ListenerMeters />
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, px: 2, mt: 1, overflow: "auto" }}>
        {loom.error && <Alert severity="error">{loom.error.message}</Alert>}
        {loom.data && (
          <Loom
            loom={loom.data}
            keep={8}
            shown={lit}
            label="Tracks loom"
            onFocus={setFocus}
            onJoin={({ part: _, ...joined }) => join(joined)}
          />
        )}
      </Box>
      <ThreadSentence
        sentence={focus ? trace.data?.sentence : undefined}
        rest="Point at a role to see who can hear it. Lay a role on a lane, or a channel on a mix, as on the patch."
      />
    </>
  );
}

function SongCard({ song }: { song: Song }) {
  const play = useCommand(`/api/songs/${song.id}/play`);
  const stop = useCommand("/api/playing/stop");
  const frames = useFrame((frame) => (frame.deck?.playing?.key === `song/${song.id}` ? frame.deck.playing.position_frames : null));
  const beat = frames === null ? null : Math.floor((frames / song.sample_rate_hz) * (song.bpm / 60));
  return (
    <Box sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.25, display: "flex", alignItems: "center", gap: 1.5 }}>
      <Box sx={{ flex: 1 }}>
        <Typography sx={{ fontWeight: 700 }}>{song.title}</Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {song.bpm} bpm in {song.beats_per_bar}, {clock(song.length_frames / song.sample_rate_hz)} · stems{" "}
          {song.stems.map((stem) => `${stem.name} (${stem.role})`).join(", ")} · click made from the tempo
        </Typography>
        {beat !== null && (
          <Typography sx={{ fontSize: 13 }}>
            bar {Math.floor(beat / song.beats_per_bar) + 1}, beat {(beat % song.beats_per_bar) + 1}
          </Typography>
        )}
      </Box>
      {frames === null ? (
        <Button variant="contained" onClick={() => play.mutate({})} aria-label={`Play ${song.title}`}>
          Play
        </Button>
      ) : (
        <Button variant="outlined" onClick={() => stop.mutate({})}>
          Stop
        </Button>
      )}
    </Box>
  );
}

/** What arrives at each listener, as the desk measures it. */
function ListenerMeters() {
  const rig = useRig();
  const listeners = (rig.data?.devices ?? []).filter((device) => device.kind === "listener");
  let at = rig.data?.listeners_at ?? 0;
  const places = listeners.map((device) => {
    const first = at;
    at += device.places[0]?.count ?? 1;
    return { device, first };
  });
  return (
    <Box component="section" aria-label="Listeners" sx={{ flex: "1 1 300px", bgcolor: "background.paper", borderRadius: 1, p: 1.25 }}>
      {places.map(({ device, first }) => (
        <ListenerRow key={device.id} name={device.name} audience={device.audience ?? ""} place={first} />
      ))}
    </Box>
  );
}

function ListenerRow({ name, audience, place }: { name: string; audience: string; place: number }) {
  const peak = useFrame((frame) => frame.desk.peaks?.[place] ?? -150);
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "126px 84px 1fr", gap: 1, alignItems: "center", fontSize: 13, height: 22 }}>
      <span>{name}</span>
      <Box component="span" sx={{ color: "text.secondary" }}>
        {audience}
      </Box>
      <Meter peakDbfs={peak} label={`${name} level`} height={9} />
    </Box>
  );
}
