import { describe, expect, it } from "vitest";
import { takeRowLabel, takeRows } from "../../src/model/takeRows";

describe("the rows of a take", () => {
  const show = {
    tracks: [
      { id: "track-7c", number: 1 },
      { id: 'Ünal/"9"/<x>', number: 2 },
      { id: "rec/track/9", number: 12 },
    ],
  };
  const files = [
    { track: "rec/track/9", name: "Narrator" },
    { track: "gone", name: "Cimbalom" },
    { track: 'Ünal/"9"/<x>', name: "Kick" },
    { track: "track-7c", name: "Tuba" },
    { track: "track-7c", name: "Tuba, after the break" },
  ];

  it("stand in the show's order under its numbers, whatever their ids are", () => {
    expect(takeRows({ files }, show).map(takeRowLabel)).toEqual([
      "01 Tuba, after the break",
      "02 Kick",
      "12 Narrator",
      "Cimbalom",
    ]);
  });

  it("are there without a number when the show has none of their tracks", () => {
    const rows = takeRows({ files }, { tracks: [] });
    expect(rows.map(takeRowLabel)).toEqual(["Narrator", "Cimbalom", "Kick", "Tuba, after the break"]);
    expect(rows.map(({ number }) => number)).toEqual([null, null, null, null]);
  });
});
