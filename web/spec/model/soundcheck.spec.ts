import { describe, expect, it } from "vitest";
import type { ImportPlan, Proof, Show, TakeOverview, Track } from "../../src/api/client";
import { nextAt, reminder, timeOfDay } from "../../src/model/doors";
import {
  importLoom,
  laidOn,
  leftOver,
  type Settled,
  sharedStart,
  startingLater,
  takenOff,
} from "../../src/model/importLoom";
import { betweenMarks, envelope, markBeside, typedTime } from "../../src/model/player";
import { framesMs, heardPicture, laneWords, type ProofLane } from "../../src/model/proof";
import { returnWords, sharers } from "../../src/model/returns";
import { given } from "../support/given";

describe("the player", () => {
  it("reads times as people type them", () => {
    const typed = ["1:23", "83", " 0:05,5", "1:02:03", "", "1:2:3:4", "-3", "abc", "1:234"];
    expect(typed.map(typedTime)).toEqual([83, 83, 5.5, 3723, null, null, null, null, null]);
  });

  it("goes round from a mark to the next, or to the end, and finds the mark beside a place", () => {
    const marks = [{ frame: 4_000 }, { frame: 1_000 }, { frame: 9_000 }];
    expect([1_000, 4_000, 9_000].map((at) => betweenMarks(marks, at, 20_000))).toEqual([
      [1_000, 4_000],
      [4_000, 9_000],
      [9_000, 20_000],
    ]);
    // Right behind a mark the one before that is meant.
    const beside = (at: number, way: -1 | 1) => markBeside(marks, at, way, 500);
    expect([beside(4_100, -1), beside(4_900, -1), beside(500, -1), beside(4_000, 1), beside(9_000, 1)]).toEqual([
      1_000,
      4_000,
      0,
      9_000,
      null,
    ]);
    expect(markBeside([], 100, 1, 0)).toBeNull();
  });

  it("lays all tracks over each other, those of other lengths and with holes too", () => {
    const tracks = [
      { track: "a", points: [[-5, 3], null, [-1, 1]] },
      { track: "b", points: [[-2, 9]] },
    ] as unknown as TakeOverview["tracks"];
    expect(envelope(given<TakeOverview>({ tracks }))).toEqual([
      [-5, 9],
      [0, 0],
      [-1, 1],
    ]);
    expect(envelope(undefined)).toEqual([]);
  });
});

describe("the way back as it was heard", () => {
  type Heard = ProofLane["heard"][number];
  const arrival = (channel: string, more: Partial<Heard> = {}) =>
    given<Heard>({ channel, gain_db: 0, inverted: false, latency_frames: 137, coloured: false, mix: false, ...more });
  const lane = (number: number, state: ProofLane["state"], heard: Heard[], faults: ProofLane["faults"] = []) =>
    given<ProofLane>({
      lane: number,
      name: `Source ${number}`,
      planned: [],
      state,
      faults,
      fine: state === "right" && faults.length === 0,
      heard,
    });
  const proof = given<Proof>({
    lanes: [
      lane(1, "right", [arrival("c/1")]),
      lane(2, "crossed", [arrival("c/3")]),
      lane(3, "crossed", [arrival("c/2")]),
      lane(4, "dead", []),
      lane(5, "unknown", []),
      lane(
        6,
        "right",
        [arrival("c/4", { latency_frames: 233, inverted: true, gain_db: -6 })],
        ["turned", "level", "late"],
      ),
      lane(7, "stage", []),
      lane(8, "mix", [arrival("m/1", { mix: true })]),
    ],
    ends: ["c/1", "c/2", "c/3", "c/4", "m/1"].map((id) => ({ id, label: id.toUpperCase(), mix: id.startsWith("m") })),
    round_trip_frames: 137,
  });

  it("draws what was heard, and a loose end for what should have been; not what is silent on purpose", () => {
    expect(heardPicture(proof).threads.map(({ key, fromRow, toRow, wrong }) => [key, fromRow, toRow, wrong])).toEqual([
      ["1 c/1", 0, 0, false],
      ["2 c/3", 1, 2, true],
      ["3 c/2", 2, 1, true],
      ["4", 3, null, true],
      ["5", 4, null, false],
      ["6 c/4", 5, 3, false],
      ["8 m/1", 7, 4, false],
    ]);
  });

  it("says level, polarity and latency beside each channel, and which of them are odd", () => {
    const same = {
      level: "0.0",
      polarity: "as sent",
      latency: "137",
      odd: { level: false, polarity: false, latency: false },
    };
    expect(heardPicture(proof).cells).toEqual([
      { row: 0, ...same },
      { row: 2, ...same },
      { row: 1, ...same },
      {
        row: 3,
        level: "-6.0",
        polarity: "turned over",
        latency: "137 + 96",
        odd: { level: true, polarity: true, latency: true },
      },
    ]);
  });

  it("says the same in words for a phone", () => {
    expect(proof.lanes.map((one) => laneWords(one, (id) => id.toUpperCase()))).toEqual([
      "C/1",
      "C/3",
      "C/2",
      "does not arrive",
      "could not be heard",
      "C/4: turned over, not at its level, not with the others",
      "silent, as planned",
      "M/1",
    ]);
    expect(framesMs(480, 48_000)).toBe("10.0 ms");
  });
});

describe("the doors", () => {
  const doors = "2026-11-26T19:30:00Z";
  const reminded = (minutes: number) => reminder(doors, new Date(Date.parse(doors) - minutes * 60_000));

  it("remind the nearer the louder, and not of yesterday", () => {
    expect([31, 30, 11, 10, 1, 0, -90, -721].map((minutes) => reminded(minutes)?.loudness ?? null)).toEqual([
      null,
      1,
      1,
      2,
      2,
      3,
      3,
      null,
    ]);
    expect(reminded(1)?.words).toContain("in 1 minute:");
    expect(reminded(5)?.words).toContain("in 5 minutes:");
    expect(reminder(null, new Date(doors))).toBeNull();
  });

  it("are the next time that a clock shows it", () => {
    const next = (time: string) => nextAt(time, new Date(2026, 10, 26, 18, 0));
    expect(["19:30", "18:00", "07:05"].map((time) => [next(time).getDate(), timeOfDay(next(time))])).toEqual([
      [26, "19:30"],
      [27, "18:00"],
      [27, "07:05"],
    ]);
  });
});

const track = (number: number, more: Partial<Track> = {}) =>
  given<Track>({
    id: `rec/track/${number}`,
    number,
    name: `Track ${number}`,
    colour: "weld",
    stitch: "solid",
    row: `list/row/${number}`,
    return_lane: number,
    channel: `desk/channel/${number}`,
    beside: null,
    sum_db: null,
    ...more,
  });

describe("files on the loom", () => {
  type File = ImportPlan["files"][number];
  const file = (number: number, title: string, holds: { channels: number; names: string[] | null } | null) =>
    given<File>({
      number,
      title,
      holds: holds && given<NonNullable<File["holds"]>>(holds as Partial<NonNullable<File["holds"]>>),
    });
  const plan = given<ImportPlan>({
    files: [
      file(1, "kick.wav", { channels: 1, names: null }),
      file(2, "room.wav", { channels: 2, names: ["near", ""] }),
      file(3, "broken.wav", null),
    ],
    tracks: [1, 2, 3, 4].map((n) => given<ImportPlan["tracks"][number]>({ id: `rec/track/${n}`, name: `Track ${n}` })),
  });
  const show = (...tracks: Track[]) => given<Show>({ tracks });
  const whole = show(track(1), track(2), track(3, { return_lane: null }), track(4, { channel: null }));
  const laid = (settled: Settled, from: string, to: string, count: number | "end" = 1) =>
    laidOn(plan, settled, whole, from, to, count);
  const places = (result: ReturnType<typeof laid>) => result?.[0];

  it("have a place for each channel that could be read, and threads on to lanes and channels", () => {
    const loom = importLoom(plan, { "1#1": "rec/track/1", "2#2": "rec/track/3" }, new Set(["1#1"]), whole);
    expect(loom.posts[0]?.knots.map(({ label }) => label)).toEqual(["kick", "room · near", "room · 2"]);
    expect(loom.posts.map(({ knots }) => knots.length)).toEqual([3, 4, 3, 3]);
    expect(loom.strands.map(({ from, to, colour, note }) => [from, to, colour, note])).toEqual([
      ["files/part/1", "rec/track/1", "weld", null],
      ["files/part/3", "rec/track/3", null, "is it so?"],
      ["rec/track/1", "back/lane/1", "weld", null],
      ["rec/track/2", "back/lane/2", "weld", null],
      ["rec/track/4", "back/lane/4", "weld", null],
      ["back/lane/1", "desk/channel/1", "weld", null],
      ["back/lane/2", "desk/channel/2", "weld", null],
    ]);
  });

  it("leave away what all names begin with, up to where a word ends", () => {
    expect(sharedStart(["Barn_T04_01_Zimbal-L.wav", "Barn_T04_02_Zimbal-R.wav", "Barn_T04_12_Sn.wav"])).toBe(
      "Barn_T04_",
    );
    expect([["Kick.wav", "Kick 2.wav"], ["Tom 1.wav"], ["a.wav", "b.wav"]].map(sharedStart)).toEqual(["", "", ""]);
  });

  it("have the thread of a track that shares a lane on that lane, and on no channel of its own", () => {
    const shared = show(track(1), track(2, { return_lane: 1, beside: "rec/track/1", sum_db: -3 }));
    expect(importLoom(plan, {}, new Set(), shared).strands.map(({ from, to }) => `${from} > ${to}`)).toEqual([
      "rec/track/1 > back/lane/1",
      "rec/track/2 > back/lane/1",
      "back/lane/1 > desk/channel/1",
    ]);
  });

  it("are laid from either end, take off whatever was on the track, and a run one to one onward", () => {
    expect(laid({ "2#1": "rec/track/2" }, "files/part/1", "rec/track/2")).toEqual([{ "1#1": "rec/track/2" }, ["1#1"]]);
    expect(laid({}, "rec/track/4", "files/part/3")).toEqual([{ "2#2": "rec/track/4" }, ["2#2"]]);
    const onward = { "1#1": "rec/track/2", "2#1": "rec/track/3", "2#2": "rec/track/4" };
    expect(places(laid({}, "files/part/1", "rec/track/2", 8))).toEqual(onward);
    expect(places(laid({}, "files/part/2", "rec/track/4", "end"))).toEqual({ "2#1": "rec/track/4" });
    expect([
      laid({}, "files/part/1", "desk/channel/1"),
      laid({}, "rec/track/1", "back/lane/1"),
      laid({}, "files/part/9", "rec/track/1"),
    ]).toEqual([null, null, null]);
  });

  it("begin as much later as they were heard, and have the others wait where that is before the take", () => {
    const later = (frames: number) => startingLater({ 1: 0, 2: 50, 3: 7 }, 3, 2, frames);
    expect([later(20), later(-50), later(-80)]).toEqual([
      { 1: 0, 2: 50, 3: 70 },
      { 1: 0, 2: 50, 3: 0 },
      { 1: 30, 2: 80, 3: 0 },
    ]);
  });

  it("are taken off from either end, and what is left over is said", () => {
    const settled = { "1#1": "rec/track/1" };
    const off = (from: string, to: string | null) => takenOff(plan, settled, from, to);
    expect([
      off("files/part/1", "rec/track/1"),
      off("rec/track/1", null),
      off("rec/track/2", null),
      off("files/part/2", null),
    ]).toEqual([{}, {}, null, null]);
    expect(leftOver(plan, settled)).toEqual({
      silent: ["Track 2", "Track 3", "Track 4"],
      out: ["room · near", "room · 2"],
    });
  });
});

describe("tracks that share a lane", () => {
  it("say with whom they come back, and at what; only one that carries no other can be summed with another", () => {
    const tracks = [
      track(1, { sum_db: -4.5 }),
      track(2, { beside: "rec/track/1", sum_db: -4.5, return_lane: 1 }),
      track(3),
      track(4, { return_lane: null }),
    ];
    expect(tracks.map((one) => returnWords(tracks, one))).toEqual([
      "lane 1, with Track 2 at −4.5 dB",
      "lane 1, with Track 1 at −4.5 dB",
      "lane 3",
      "no lane",
    ]);
    expect(tracks.map((one) => sharers(tracks, one).map(({ number }) => number))).toEqual([[], [1, 3], [1], [1, 3]]);
  });
});
