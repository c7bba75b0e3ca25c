import { describe, expect, it } from "vitest";
import { blockAt, type Run, slotsOf, wordsOf } from "../../src/model/runs";
import { tapsInWords } from "../../src/model/taps";
import { given } from "../support/given";

describe("runs", () => {
  it("begin at the eight around the place that was pointed at, where that is a slot", () => {
    const fields = [{ name: "desk/channel" }, { name: "desk/output" }];
    expect(blockAt(fields, "desk/output/11", "desk/channel")).toEqual({ field: "desk/output", first: 9 });
    expect([null, "list/row/3"].map((place) => blockAt(fields, place, "desk/channel").first)).toEqual([1, 1]);
    expect(slotsOf("desk/output", 3, 4)).toEqual(["desk/output/3", "desk/output/4"]);
  });

  it.each<[Partial<Run>, string]>([
    [{ kind: "shift", first: 1, last: 8, by: 8 }, "Move Quay desk: channel 1–8 by 8"],
    [{ kind: "free", first: 9, last: 9 }, "Free Quay desk: channel 9"],
    [{ kind: "delay", first: 1, last: 2, by: 12.5 }, "Delay Quay desk: channel 1–2 by 12.5 ms"],
    [{ kind: "tracks", first: 1, last: 8 }, "Make tracks of what arrives"],
  ])("are called by the history %j: %s", (run, words) => {
    expect(wordsOf(given<Run>(run), "Quay desk: channel")).toBe(words);
  });
});

describe("taps", () => {
  it("are said with what they hold, in signal order", () => {
    expect(tapsInWords(["post-fader", "raw"])).toBe(
      "raw: the socket alone, for soundcheck; post-fader: as in the mix, every fader move",
    );
  });
});
