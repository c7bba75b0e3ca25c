import { describe, expect, it } from "vitest";
import { clock, dashed, duration, heat, slug, span, weight } from "../../src/model/format";
import { tapped, tempoOf } from "../../src/model/tempo";

describe("formats", () => {
  it.each([
    [3725, "01:02:05"],
    [0, "00:00:00"],
    [-3, "00:00:00"],
  ])("write %s s as %s", (seconds, text) => expect(clock(seconds)).toBe(text));

  it.each([
    [null, "nothing armed"],
    [90, "1 min"],
    [16_260, "4 h 31 min"],
    [400_000, "111 h"],
  ])("write what is left, %s s, as %s", (seconds, text) => expect(span(seconds)).toBe(text));

  it.each([
    [0, "0 MB"],
    [20, "under 1 MB"],
    [12_345_678, "12 MB"],
    [48_000_000_000, "48.0 GB"],
  ])("write %s bytes as %s", (bytes, text) => expect(weight(bytes)).toBe(text));

  it.each([
    [0.4, "1 s"],
    [80, "80 s"],
    [200, "3 min"],
  ])("write %s s that are left as %s", (seconds, text) => expect(duration(seconds)).toBe(text));

  it.each([
    ["Lanterns, 2nd night", "7-lanterns-2nd-night"],
    ["Äbbe", "7-abbe"],
    ["---", "7"],
  ])("call the show %s %s in an address", (name, text) => expect(slug(7, name)).toBe(text));

  it.each([
    [0, "clipped"],
    [-3, "hot"],
    [-20, "good"],
    [-60, "quiet"],
  ])("call %s dBFS %s", (dbfs, word) => expect(heat(dbfs)).toBe(word));

  it("write roles as the library does", () => {
    expect(["Lead Vox!", "Äö 1", "--"].map(dashed)).toEqual(["lead-vox", "ao-1", ""]);
  });
});

describe("a tapped tempo", () => {
  const tap = (...timesMs: number[]) => timesMs.reduce(tapped, [] as number[]);

  it("is that of even taps, from the third on, and begins anew after a pause", () => {
    const taps = [[0, 500], [0, 500, 1000], tap(0, 500, 1000, 1500), tap(0, 500, 1000, 9000, 9400, 9800)];
    expect(taps.map(tempoOf)).toEqual([null, 120, 120, 150]);
  });

  it("forgets an unsteady beginning", () => {
    expect(tap(...Array.from({ length: 21 }, (_, n) => n * 400))).toHaveLength(12);
  });
});
