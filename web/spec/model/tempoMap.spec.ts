import { describe, expect, it } from "vitest";
import { changesOf, mapOf, type TempoMap, typedMeter, withMeter, withTempo } from "../../src/model/tempoMap";
import { given } from "../support/given";

describe("the tempo map", () => {
  const map = given<TempoMap>({
    meters: [
      { bar: 1, meter: "4/4" },
      { bar: 5, meter: "7/8" },
    ],
    tempi: [
      { bar: 1, bpm: 100 },
      { bar: 1, quarters: "1/2", bpm: "280/3" },
      { bar: 3, bpm: 120, ramp: true },
    ],
    pickup_beats: 0,
  });

  it("is that of a song without changes, and none without a tempo", () => {
    expect(mapOf({ bpm: 97.5, beats_per_bar: 3, tempo: null })).toEqual({
      meters: [{ bar: 1, meter: "3/4" }],
      tempi: [{ bar: 1, bpm: 97.5, quarters: 0, ramp: false }],
      pickup_beats: 0,
    });
    expect(mapOf({ bpm: null, beats_per_bar: 4, tempo: null })).toBeNull();
  });

  it("lists what changes at each bar, tempo and time signature together", () => {
    expect(changesOf(map)).toMatchObject([
      { bar: 1, within: 0, bpm: 100, meter: "4/4", ramp: false },
      { bar: 1, within: 0.5, bpm: expect.closeTo(93.333, 3), meter: null, ramp: false },
      { bar: 3, within: 0, bpm: 120, meter: null, ramp: true },
      { bar: 5, within: 0, bpm: null, meter: "7/8", ramp: false },
    ]);
  });

  it("is changed bar by bar; the first bar always has both", () => {
    const tempi = (bar: number, bpm: number | null, ramp = false) => withTempo(map, bar, bpm, ramp).tempi;
    expect(tempi(2, 80).map(({ bar, bpm }) => [bar, bpm])).toEqual([
      [1, 100],
      [1, "280/3"],
      [2, 80],
      [3, 120],
    ]);
    expect(tempi(3, null).map(({ bar }) => bar)).toEqual([1, 1]);
    expect(tempi(1, null)).toHaveLength(3);
    expect(tempi(1, 90, true)[0]).toMatchObject({ bpm: 90, ramp: true });
    expect(withMeter(map, 5, null).meters).toEqual([{ bar: 1, meter: "4/4" }]);
    expect(withMeter(map, 1, null).meters).toHaveLength(2);
    expect(withMeter(map, 3, "3/4").meters.map(({ bar }) => bar)).toEqual([1, 3, 5]);
  });

  it("reads time signatures as they are typed", () => {
    const typed = ["4/4", " 7 / 8 ", "12/16", "4/3", "0/4", "x", "4", ""];
    expect(typed.map(typedMeter)).toEqual(["4/4", "7/8", "12/16", null, null, null, null, null]);
  });
});
