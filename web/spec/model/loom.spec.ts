import { describe, expect, it } from "vitest";
import type { Knot, Strand } from "../../src/api/client";
import { noteEnds, type Placed, threadEnd } from "../../src/model/loom";
import { deskFor, faceFor, loomName } from "../../src/model/patchFaces";
import { columnWidth } from "../../src/model/rig";
import { given } from "../support/given";

describe("what a thread is about", () => {
  const strand = (from: string, to: string) => given<Strand>({ from, to, note: `${from} to ${to}` });
  const strands = [strand("a", "x"), strand("b", "x"), strand("a", "y")];
  const ends = (some: Strand[], lit: boolean, dense: boolean) =>
    noteEnds(some, lit, dense).map(({ strand, at }) => [strand.note, at]);

  it("is said at the end where no other ends, and in a dense loom only of what is lit", () => {
    expect(ends(strands, false, false)).toEqual([
      ["b to x", "b"],
      ["a to y", "y"],
    ]);
    expect(ends(strands.slice(0, 2), true, true)).toEqual([
      ["a to x", "a"],
      ["b to x", "b"],
    ]);
    expect(ends(strands, false, true)).toEqual([]);
    expect(ends([given<Strand>({ from: "a", to: "z", note: null })], false, false)).toEqual([]);
  });
});

describe("threads at labels", () => {
  const knot = given<Knot>({ id: "desk/channel/12", number: 12, label: "channel 12", name: null, present: true });
  const at: Placed = { x: 400, y: 50, post: 2, place: 11, knot };
  const on = (from: number, placed: Placed) => threadEnd(placed, { x: from }, 5).x;

  it("end before the label of a post in the middle, however long it is", () => {
    expect(on(100, at)).toBeCloseTo(400 - 14 - 2 * 6.6, 1);
    expect(on(100, { ...at, knot: { ...knot, label: "Box A socket 12" } })).toBeLessThan(on(100, at));
  });

  it("end at the knot where the label stands elsewhere: first and last post, and coming from the right", () => {
    expect([on(100, { ...at, post: 0 }), on(100, { ...at, post: 4 }), on(700, at)]).toEqual([400, 400, 400]);
  });

  it("never end before they begin", () => {
    expect(on(395, at)).toBe(395);
  });
});

describe("the faces of the patch", () => {
  it("call a loom by its desk where there are several", () => {
    expect([
      loomName("patch", "desk", 1),
      loomName("mixes", "monitors", 2),
      loomName("sheet", "desk", 1),
      loomName("outputs", null, 0),
    ]).toEqual(["patch", "mixes@monitors", "patch", "outputs"]);
  });

  it.each([
    [["desk/channel/5", "desk/bus/7"], "mixes"],
    [["desk/channel/1", "desk/card-send/1"], "patch"],
    [["list/row/9", "desk/channel/9"], "patch"],
    [[], "patch"],
  ])("show a finding about %j on the loom %s", (places, face) => {
    expect(faceFor(places)).toBe(face);
  });

  it("show a finding with the desk that it names", () => {
    const desks = [{ id: "desk" }, { id: "desk-2" }];
    expect([["list/row/1", "desk-2/channel/1"], ["list/row/1"]].map((places) => deskFor(places, desks))).toEqual([
      "desk-2",
      null,
    ]);
  });
});

describe("the rig's map", () => {
  it("has its columns as far apart as the frame has room, within what can be read", () => {
    expect([300, 800, 884, 2000].map(columnWidth)).toEqual([262, 280, 322, 330]);
  });
});
