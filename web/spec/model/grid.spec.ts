import { describe, expect, it } from "vitest";
import {
  chosen,
  cleared,
  filledDown,
  type GridColumn,
  moved,
  parseClipboard,
  pasted,
  toClipboard,
} from "../../src/model/grid";

const columns: GridColumn[] = [
  { key: "number", title: "No.", width: 50, fixed: true },
  { key: "name", title: "Name", width: 90, needed: true },
  { key: "stand", title: "Stand", width: 90 },
  { key: "power", title: "48 V", width: 50, choices: ["yes", "no"] },
  { key: "socket", title: "Socket", width: 90, counts: true },
];

describe("a sheet of cells", () => {
  it.each([
    [
      "a\tb\r\nc\td\r\n",
      [
        ["a", "b"],
        ["c", "d"],
      ],
    ],
    ['"two\nlines"\t"say ""hi"""', [["two\nlines", 'say "hi"']]],
    ["", [[""]]],
    ["1\t\t3", [["1", "", "3"]]],
  ])("reads a spreadsheet's clipboard: %j", (clip, cells) => {
    expect(parseClipboard(clip)).toEqual(cells);
  });

  it("gives a spreadsheet what it reads back the same", () => {
    const cells: Record<string, string>[] = [
      { name: "Kick, in", notes: "two\nlines" },
      { name: 'Say "hi"', notes: "" },
    ];
    const both = ["name", "notes"].map((key) => ({ key, title: key, width: 90 }));
    const clip = toClipboard(both, { top: 0, bottom: 1, left: 0, right: 1 }, (row, key) => cells[row]?.[key] ?? "");
    expect(parseClipboard(clip)).toEqual(cells.map((cell) => Object.values(cell)));
  });

  it.each([
    ["ArrowDown", false, 1, 1],
    ["ArrowUp", false, 0, 1],
    ["Enter", true, 0, 1],
    ["Tab", false, 0, 2],
    ["Tab", true, 0, 0],
    ["End", false, 0, 14],
    ["PageDown", false, 4, 1],
  ])("moves by %s (shift: %s), never off the sheet", (key, shift, row, column) => {
    expect(moved({ row: 0, column: 1 }, key, shift, 5, 15)).toEqual({ row, column });
  });

  it("fills a selection with one pasted cell, and passes over what cannot be written", () => {
    expect(pasted(columns, [["x"]], { top: 0, bottom: 1, left: 0, right: 1 })).toEqual([
      { row: 0, key: "name", value: "x" },
      { row: 1, key: "name", value: "x" },
    ]);
    const two = pasted(
      columns,
      [
        ["1", "Kick"],
        ["2", "Snare"],
      ],
      { top: 2, bottom: 2, left: 0, right: 0 },
    );
    expect(two.map(({ row, value }) => [row, value])).toEqual([
      [2, "Kick"],
      [3, "Snare"],
    ]);
    expect(cleared(columns, { top: 0, bottom: 0, left: 0, right: 4 }).map(({ key }) => key)).toEqual([
      "stand",
      "socket",
    ]);
  });

  it("fills down: what stands on top is repeated, places count on", () => {
    const top: Record<string, string> = {
      number: "1",
      name: "Kick 1",
      stand: "boom",
      power: "yes",
      socket: "Box A socket 9",
    };
    const filled = filledDown(columns, { top: 0, bottom: 2, left: 0, right: 4 }, (_, key) => top[key] ?? "");
    expect(Object.fromEntries(filled.filter(({ row }) => row === 2).map(({ key, value }) => [key, value]))).toEqual({
      name: "Kick 1",
      stand: "boom",
      power: "yes",
      socket: "Box A socket 11",
    });
  });

  // A tap that is typed is the tap that is kept.
  it.each([
    ["post-fader", "post-fader"],
    ["PRE-EQ", "pre-eq"],
    ["r", "raw"],
    ["po", "post-fader"],
    ["pre", "pre"],
    ["", ""],
    ["lamp", "lamp"],
  ])("takes a choice as it is typed, or the only one that begins so: %j", (typed, kept) => {
    expect(chosen(["raw", "pre-eq", "pre-fader", "post-fader"], typed)).toBe(kept);
  });
});
