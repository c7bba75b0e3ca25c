import { describe, expect, it } from "vitest";
import { byLane, eventsQuery, lanesIn, together } from "../../src/model/levels";
import { heardLevels } from "../../src/model/liveState";

describe("levels that are wanted", () => {
  it("are asked for once for all who look at them", () => {
    const wanted = together([
      { rateHz: 20, lanes: [3, 1, 2], desk: false },
      { rateHz: 5, lanes: [2, 9], desk: true },
    ]);
    expect(eventsQuery(wanted)).toBe("?rate_hz=20&lanes=1-3,9&desk=true");
    expect(eventsQuery({ rateHz: 20, lanes: [], desk: false })).toBe("?rate_hz=20");
    expect([together([]), eventsQuery(null)]).toEqual([null, ""]);
  });

  it("stand at their lane's place", () => {
    const levels = byLane([2, 4], [-3, -6]);
    expect([levels[1], levels[3], 0 in levels, 2 in levels, levels.length]).toEqual([-3, -6, false, false, 4]);
  });

  it("name lanes as they were asked for", () => {
    expect(["", "1", "1-3", "1,3-4,9"].map(lanesIn)).toEqual([[], [1], [1, 2, 3], [1, 3, 4, 9]]);
  });
});

describe("levels that are told seldom", () => {
  const before = { lanes: "1-2", peak_dbfs: [-1, -2], clips: [0, 3] };

  it("are kept as long as they are of the same lanes", () => {
    expect(heardLevels(before, { lanes: "1-2", peak_dbfs: [-5, -6] })).toEqual({
      lanes: "1-2",
      peak_dbfs: [-5, -6],
      clips: [0, 3],
    });
    expect(heardLevels(before, { lanes: "7", peak_dbfs: [-5] })).toEqual({ lanes: "7", peak_dbfs: [-5] });
  });
});
