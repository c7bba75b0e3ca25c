import { describe, expect, it } from "vitest";
import { actionOf, learn, type MidiKey, readLearnt, readMessage } from "../../src/model/midiKeys";
import { afterWords, comesNext, setLength } from "../../src/model/setList";

const song = (seconds: number, listed = {}) => ({
  title: "Reeds",
  sample_rate_hz: 1000,
  playing_frames: seconds * 1000,
  listed: { after: "go", wait_s: 9, talk_s: 0, break_s: 0, ...listed },
});

describe("the set list's words", () => {
  it("count what lies between songs, and nothing behind the last one", () => {
    const songs = [song(60, { talk_s: 30 }), song(90, { after: "wait", wait_s: 6 }), song(30, { break_s: 600 })];
    expect(setLength(songs)).toEqual({ music_s: 180, all_s: 216 });
    expect(setLength([])).toEqual({ music_s: 0, all_s: 0 });
  });

  it("say what happens at a song's end", () => {
    expect(["go", "on", "wait", "stop"].map((after) => afterWords({ after, wait_s: 6 }))).toEqual([
      "waits for Go",
      "goes on without a gap",
      "goes on after 6 s",
      "the set stops behind it",
    ]);
    expect(comesNext(song(5), song(4, { after: "wait" }).listed)).toBe("Next: Reeds, 9 s behind it");
  });
});

describe("pedals", () => {
  const read = (...bytes: number[]) => readMessage(bytes);

  // MIDI 1.0: status bytes 8n, 9n and Bn; a note on of velocity 0 is a note off; a switch controller is on from 64.
  it("are read from messages of MIDI 1.0", () => {
    expect(read(0x90, 60, 1)).toEqual({ key: { kind: "note", channel: 1, number: 60 }, down: true });
    expect([read(0x9f, 60, 0), read(0x8f, 60, 64)].map((one) => [one?.key.channel, one?.down])).toEqual([
      [16, false],
      [16, false],
    ]);
    expect([63, 64].map((value) => read(0xb3, 64, value)?.down)).toEqual([false, true]);
    expect([read(0xf8), read(0xe0, 0, 64), read(0xc0, 3)]).toEqual([null, null, null]);
  });

  it("do one thing each: whoever learns one last has it; what is kept and cannot be read is nothing", () => {
    const key: MidiKey = { kind: "note", channel: 1, number: 60 };
    const learnt = learn(learn({}, "go", key), "stop", key);
    expect(learnt).toEqual({ stop: "note 60 on channel 1" });
    expect([actionOf(learnt, key), actionOf(learnt, { ...key, channel: 2 })]).toEqual(["stop", null]);
    const kept = ["{", "[]", "null", '{"go": 3, "stop": "note 1 on channel 1"}'];
    expect(kept.map(readLearnt)).toEqual([{}, {}, {}, { stop: "note 1 on channel 1" }]);
  });
});
