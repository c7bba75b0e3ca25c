import { describe, expect, it } from "vitest";
import type { Frame } from "../../src/api/live";
import { atDesk, inFile, isSilent, type LevelOf, onLane, SILENCE_DBFS } from "../../src/model/levelOf";
import { eventsQuery, together } from "../../src/model/levels";
import { given } from "../support/given";

describe("a level", () => {
  const frame = given<Frame>({
    meters: { peak_dbfs: [-1, -2], held_dbfs: [], clips: [] },
    desk: { answers: true, peaks: [-3, -4] },
    deck: { next: null, playing: given<NonNullable<NonNullable<Frame["deck"]>["playing"]>>({ peak_dbfs: [-5, -6] }) },
  });
  const nothing = given<Frame>({ meters: null, desk: { answers: false, peaks: null }, deck: null });
  const all: [string, (place: number | null | undefined) => LevelOf][] = [
    ["on a lane", onLane],
    ["at the desk", atDesk],
    ["in a file", inFile],
  ];

  it("stands at its place, counted from 1", () => {
    expect(all.map(([, of]) => of(2).in(frame))).toEqual([-2, -4, -6]);
  });

  it.each(all)("is silence where there is no place, and where nothing is known: %s", (_, of) => {
    const none = [of(null).in(frame), of(undefined).in(frame), of(9).in(frame), of(1).in(nothing)];
    expect(new Set(none)).toEqual(new Set([SILENCE_DBFS]));
  });

  it("is too low to be anybody's only where it is known", () => {
    const quiet = given<Frame>({ meters: { peak_dbfs: [-61, -59], held_dbfs: [], clips: [] } });
    expect([isSilent(1, quiet), isSilent(2, quiet), isSilent(null, quiet)]).toEqual([true, false, true]);
    expect([isSilent(1, nothing), isSilent(null, nothing)]).toEqual([false, false]);
  });

  // What the server tells of a wish: lanes by their numbers, files beside the desk's channels.
  it("wants what brings it, and nothing where it has no place", () => {
    const asked = (...levels: LevelOf[]) =>
      eventsQuery(together(levels.map(({ wants }) => ({ rateHz: 20, ...wants }))));
    expect(asked(onLane(3), onLane(1), onLane(3))).toBe("?rate_hz=20&lanes=1,3");
    expect([asked(atDesk(1)), asked(inFile(1))]).toEqual(["?rate_hz=20&desk=true", "?rate_hz=20&desk=true"]);
    expect([asked(onLane(null)), asked(atDesk(null)), asked(inFile(null))]).toEqual(Array(3).fill("?rate_hz=20"));
  });
});
