import { describe, expect, it } from "vitest";
import { barAt, drawn, movedTo, type Section, sectionAt, songAt, withSection } from "../../src/model/sections";
import { randomOf } from "../support/given";

const sectionsOf = (...named: [bar: number, name: string][]) =>
  named.reduce<Section[]>((all, [bar, name]) => withSection(all, bar, name), []);

/** Which name stands in each bar: what drawing means, bar by bar. */
const byBar = (sections: Section[], bars: number) =>
  Array.from(
    { length: bars },
    (_, at) => sections.filter(({ bar }) => bar <= at + 1).sort((one, other) => other.bar - one.bar)[0]?.name,
  );

describe("sections", () => {
  it("stand by bar, each with an id of its own and the dye of those that are called alike", () => {
    const all = sectionsOf(
      [9, "Chorus 1"],
      [1, "Verse 1"],
      [17, "Verse 2"],
      [25, "Chorus 2"],
      [33, "Brücke"],
      [41, "!"],
    );
    expect(all.map(({ bar, id }) => [bar, id])).toEqual([
      [1, "verse-1"],
      [9, "chorus-1"],
      [17, "verse-2"],
      [25, "chorus-2"],
      [33, "bru-cke"],
      [41, "part"],
    ]);
    const dyes = all.map(({ colour }) => colour);
    expect([dyes[0] === dyes[2], dyes[1] === dyes[3], new Set([0, 1, 4, 5].map((at) => dyes[at])).size]).toEqual([
      true,
      true,
      4,
    ]);
    expect(
      withSection(all, 9, "Hook")
        .map(({ name }) => name)
        .slice(0, 2),
    ).toEqual(["Verse 1", "Hook"]);
    expect(withSection(all, 50, "Verse 1").at(-1)?.id).toBe("verse-1-2");
  });

  it("are drawn over bars: the rest stays as it was, whatever lay there (random cases against a list of bars)", () => {
    const random = randomOf(7);
    const pick = (from: number, to: number) => from + Math.floor(random() * (to - from + 1));
    for (let n = 0; n < 200; n += 1) {
      const bars = pick(1, 24);
      const all = sectionsOf(
        ...Array.from({ length: pick(0, 6) }, (_, at): [number, string] => [pick(1, bars), `S${at}`]),
      );
      const ends = [pick(1, bars), pick(2, bars + 1)];
      const from = Math.min(...ends);
      const to = Math.max(...ends, from + 1);
      const made = drawn(all, from, to, "New", bars);
      // Where nothing stood, what is drawn goes on up to what comes.
      const want = byBar(all, bars).map((name, at) =>
        at + 1 >= from && (at + 1 < to || name === undefined) ? "New" : name,
      );
      expect(byBar(made, bars)).toEqual(want);
      expect(made.map(({ bar }) => bar)).toEqual(
        [...new Set(made.map(({ bar }) => bar))].sort((one, other) => one - other),
      );
      expect(new Set(made.map(({ id }) => id)).size).toBe(made.length);
    }
  });

  it("keep who they are where they go on behind what is drawn", () => {
    const all = sectionsOf([1, "Verse"], [9, "Chorus"]);
    const ids = (from: number, to: number) => drawn(all, from, to, "Solo", 16).map(({ bar, id }) => `${bar} ${id}`);
    expect([ids(3, 5), ids(7, 11), ids(1, 5), ids(9, 17)]).toEqual([
      ["1 verse", "3 solo", "5 verse-2", "9 chorus"],
      ["1 verse", "7 solo", "11 chorus"],
      ["1 solo", "5 verse", "9 chorus"],
      ["1 verse", "9 solo"],
    ]);
  });

  it("begin at another bar, never past their neighbours", () => {
    const all = sectionsOf([1, "A"], [5, "B"], [9, "C"]);
    const moved = (id: string, bar: number) => movedTo(all, id, bar, 16).map((one) => one.bar);
    expect([moved("b", 3), moved("b", 40), moved("b", -2), moved("c", 40), moved("a", 0), moved("a", 6)]).toEqual([
      [1, 3, 9],
      [1, 8, 9],
      [1, 2, 9],
      [1, 5, 16],
      [1, 5, 9],
      [4, 5, 9],
    ]);
  });

  it("are found by the bar under a frame", () => {
    expect([-5, 0, 99, 100, 249, 250, 299, 300, 900].map((frame) => barAt([0, 100, 250, 300], frame))).toEqual([
      1, 1, 1, 2, 2, 3, 3, 3, 3,
    ]);
  });

  it("lie elsewhere at another tempo that lies ready", () => {
    const song = {
      percent: 100,
      playing_frames: 300,
      sections: [
        { name: "A", from_frame: 100, to_frame: 200 },
        { name: "B", from_frame: 200, to_frame: 300 },
      ],
      at_tempi: [
        {
          percent: 100,
          playing_frames: 300,
          sections: [
            [100, 200],
            [200, 300],
          ],
        },
        {
          percent: 50,
          playing_frames: 600,
          sections: [
            [200, 400],
            [400, 601],
          ],
        },
      ],
    };
    expect(songAt(song, 50)).toMatchObject({
      percent: 50,
      playing_frames: 600,
      sections: [
        { name: "A", from_frame: 200, to_frame: 400 },
        { name: "B", from_frame: 400, to_frame: 601 },
      ],
    });
    expect([null, 100, 70].map((percent) => songAt(song, percent).sections[0]?.from_frame)).toEqual([100, 100, 100]);
  });

  it("are found by what sounds, to the frame", () => {
    const sections = [
      { name: "A", from_frame: 100, to_frame: 200 },
      { name: "B", from_frame: 200, to_frame: 300 },
    ];
    const at = (frame: number) => Object.values(sectionAt(sections, frame)).map((one) => one?.name ?? null);
    expect([99, 100, 199, 200, 299, 300].map(at)).toEqual([
      [null, "A"],
      ["A", "B"],
      ["A", "B"],
      ["B", null],
      ["B", null],
      [null, null],
    ]);
  });
});
