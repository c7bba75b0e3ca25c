import { describe, expect, it } from "vitest";
import type { Linecheck, LinecheckRow } from "../../src/api/client";
import {
  chosenFault,
  counted,
  countedWords,
  latest,
  before as placeBefore,
  signedDb,
  turnOf,
} from "../../src/model/linecheck";
import { given } from "../support/given";

const row = (number: number, state: LinecheckRow["state"], at?: string) =>
  given<LinecheckRow>({
    id: `list/row/${number}`,
    number,
    name: `Source ${number}`,
    state,
    verdict: at ? given<NonNullable<LinecheckRow["verdict"]>>({ at }) : null,
  });

describe("the line check", () => {
  const rows = [
    row(1, "fine", "2026-11-26T18:00:02"),
    row(2, "wrong", "2026-11-26T18:00:09"),
    row(3, "again"),
    row(4, "skipped", "2026-11-26T18:00:05"),
    row(5, "open"),
  ];
  const check = (turn: string) => given<Linecheck>({ turn, rows });

  it("counts how all stand, and leaves out in words what there is none of", () => {
    expect(counted(rows)).toEqual({ fine: 1, wrong: 1, skipped: 1, open: 2 });
    expect(countedWords(counted(rows))).toBe("1 proved · 1 to mend · 1 skipped · 2 open");
    expect(countedWords(counted([row(1, "fine")]))).toBe("1 proved");
  });

  it("knows whose turn it is, who was before, round the end too, and what was found last of the others", () => {
    const now = check("list/row/2");
    expect([turnOf(now)?.number, placeBefore(now), latest(now)?.number]).toEqual([2, "list/row/1", 4]);
    expect(placeBefore(check("list/row/1"))).toBe("list/row/5");
  });

  it("chooses a fault for any two numbers, a swap with a neighbour, none where there is one source only", () => {
    expect([
      chosenFault(rows, 0, 0),
      chosenFault(rows, 0, 0.999),
      chosenFault(rows, 0.999, 0.5),
      chosenFault(rows, 1, 1),
    ]).toEqual([
      { kind: "swap", row: "list/row/1", other: "list/row/2" },
      { kind: "swap", row: "list/row/5", other: "list/row/4" },
      { kind: "lane", row: "list/row/3" },
      { kind: "lane", row: "list/row/5" },
    ]);
    expect(chosenFault([row(1, "open")], 0, 0)).toBeNull();
    expect([6, -3, 0].map(signedDb)).toEqual(["+6", "−3", "0"]);
  });
});
