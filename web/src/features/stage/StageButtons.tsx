import { Box, Button } from "@mui/material";
import type { ReactNode } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Song } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { HoldButton } from "../../ui/HoldButton";
import { useWidth } from "../../ui/useWidth";
import { MidiKeys, type StageAct } from "./MidiKeys";
import { StageOsc } from "./StageOsc";

/** Slow enough to be heard as an ending, quick enough for a night that must go on. */
const FADE_S = 4;

/** A key that is meant for an open dialog runs nothing. */
export const stageKeys = (): boolean => document.querySelector("[role=dialog]") === null;

interface Props {
  song: Song;
  playing: boolean;
  /** It lies ready on the deck: Go only lets it go on. */
  standing: boolean;
  round: boolean;
  onRound: () => void;
  before: Song | undefined;
  following: Song | undefined;
  onChoose: (song: Song) => void;
  /** What stands beside pedals and OSC. */
  children: ReactNode;
}

/** The keys of whoever runs the night. What cannot be taken back is held; what can is pressed. */
export function StageButtons({ song, playing, standing, round, onRound, before, following, onChoose, children }: Props) {
  const phone = useWidth() === "phone";
  const play = useCommand(`songs/${song.id}/play`);
  const skip = useCommand(`songs/${following?.id ?? song.id}/play`);
  const pause = useCommand("/api/playing/pause");
  const stop = useCommand("/api/playing/stop");
  const jump = useCommand("/api/playing/jump");
  const fade = useCommand("/api/playing/fade");
  const hush = useCommand("/api/playing/hush");
  const hushed = useFrame((frame) => frame.deck?.playing?.hushed ?? false);
  const waits = useFrame((frame) => frame.deck?.playing == null && frame.deck?.next?.in_s != null);
  const busy = play.isPending || pause.isPending;
  const go = () => !playing && !busy && (standing ? pause.mutate({ on: false }) : play.mutate({ onward: true, instead_of: null }));
  const silence = () => playing && hush.mutate({ on: !hushed });
  const stopAtBar = () => playing && song.bars !== null && jump.mutate({ stop: true, at: "bar" });
  const choose = (other: Song | undefined) => !playing && other && onChoose(other);
  const callOff = () => stop.mutate({});
  const fadeOut = () => playing && fade.mutate({ seconds: FADE_S });
  const nextNow = () => playing && following && skip.mutate({ onward: true, instead_of: `song/${song.id}` });
  const acts: StageAct[] = [
    { name: "go", words: "Go", held: false, act: go },
    { name: "stop", words: "Stop", held: true, act: callOff },
    { name: "stop-at-bar", words: "Stop at the bar", held: false, act: stopAtBar },
    { name: "fade", words: "Fade out", held: true, act: fadeOut },
    { name: "round", words: "Round again", held: false, act: onRound },
    { name: "silence", words: "Silence", held: false, act: silence },
    { name: "before", words: "Song before", held: false, act: () => choose(before) },
    { name: "next", words: "Next song", held: false, act: () => choose(following) },
    { name: "next-now", words: "Next song now", held: true, act: nextNow },
  ];
  const keys = { preventDefault: true, enabled: stageKeys };
  useHotkeys("space", go, keys);
  useHotkeys("x", silence, keys);
  useHotkeys("b", stopAtBar, keys);
  useHotkeys("n", () => choose(following), keys);
  useHotkeys("p", () => choose(before), keys);
  return (
    <>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: phone ? "1fr 1fr" : "repeat(4, 1fr)",
          gap: 1.25,
          "& button": { minHeight: phone ? 60 : 64, fontSize: phone ? 16 : 18 },
        }}
      >
        <Button variant="contained" disabled={playing || busy} onClick={go}>
          Go (Space)
        </Button>
        <HoldButton label={waits ? "Call it off (hold)" : "Stop (hold)"} onHeld={callOff} />
        <Button variant="outlined" color="inherit" disabled={!playing || song.bars === null} onClick={stopAtBar}>
          Stop at the bar (B)
        </Button>
        <HoldButton label="Fade out (hold)" onHeld={fadeOut} />
        <Button variant="outlined" color="inherit" disabled={!playing} aria-pressed={round} onClick={onRound}>
          {round ? "Let it go (R)" : "Round again (R)"}
        </Button>
        <Button variant={hushed ? "contained" : "outlined"} color="error" disabled={!playing} aria-pressed={hushed} onClick={silence}>
          {hushed ? "Back in (X)" : "Silence (X)"}
        </Button>
        <Button variant="outlined" color="inherit" disabled={playing || !before} onClick={() => choose(before)}>
          Song before (P)
        </Button>
        {playing && following ? (
          <HoldButton label="Next song now (hold)" onHeld={nextNow} />
        ) : (
          <Button variant="outlined" color="inherit" disabled={playing || !following} onClick={() => choose(following)}>
            Next song (N)
          </Button>
        )}
      </Box>
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        {children}
        <MidiKeys acts={acts} />
        <StageOsc />
      </Box>
    </>
  );
}
