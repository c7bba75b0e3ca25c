import { describe, expect, it } from "vitest";
import type { Row } from "../../src/api/client";
import { editOf, pairsEdit, writingOf } from "../../src/model/sheet";
import { given } from "../support/given";

const rows = (...names: string[]) =>
  names.map((name, at) =>
    given<Row>({ id: `list/row/${at + 1}`, number: at + 1, name, group: "", pair: null, safe: false, channels: [] }),
  );
const sockets = [{ id: "box-a/mic/1", label: "Box A socket 1", short: "Box A 1" }];

/** Rows that an edit writes, by id; the second part of each group is left. */
function madeOf(result: ReturnType<typeof editOf>) {
  if ("fault" in result || result.edit.kind !== "group") throw new Error(JSON.stringify(result));
  return result.edit.edits;
}

describe("the input list as a sheet", () => {
  it("makes one edit of what was typed: cells, plugs by their label or short name, new rows", () => {
    const made = madeOf(
      editOf(
        rows("A", "B"),
        [
          { row: 0, key: "name", value: " Kick\n drum " },
          { row: 0, key: "socket", value: "box a 1" },
          { row: 1, key: "safe", value: "yes" },
          { row: 1, key: "pair", value: "1" },
          { row: 3, key: "mic", value: "ribbon" },
        ],
        sockets,
      ),
    );
    const written = (made[0] as { rows: Record<string, unknown> }).rows;
    const fresh = Object.keys(written).at(-1) ?? "";
    expect(fresh).toMatch(/^list\/row\/[a-z0-9]{12}$/);
    // A gap is kept, so the row says its number.
    expect(made).toEqual([
      {
        kind: "rows",
        rows: {
          "list/row/1": { name: "Kick drum" },
          "list/row/2": { safe: true, pair: "list/row/1" },
          [fresh]: { mic: "ribbon", name: "New source", number: 4 },
        },
      },
      { kind: "plug", row: "list/row/1", socket: "box-a/mic/1" },
    ]);
  });

  it("leaves the number of a row that follows the list to where it is written", () => {
    const made = madeOf(editOf(rows("A"), [{ row: 1, key: "name", value: "B" }], sockets));
    expect(Object.values((made[0] as { rows: Record<string, unknown> }).rows)).toEqual([{ name: "B" }]);
  });

  it("pairs rows, and calls a group's colour by the group", () => {
    expect(pairsEdit([["list/row/1", "list/row/2"]])).toEqual({
      kind: "rows",
      rows: { "list/row/1": { pair: "list/row/2" } },
    });
    const words = (group: string, key: string) =>
      writingOf(given<Row>({ group }), [{ row: 0, key, value: "x" }], "Colour of Kick");
    expect([words("drums", "colour"), words("drums", "name"), words("", "colour")]).toEqual([
      "Colour of the group drums",
      "Colour of Kick",
      "Colour of Kick",
    ]);
  });

  it("says which cell cannot be, and makes no edit then", () => {
    expect(editOf(rows("A"), [{ row: 0, key: "socket", value: "Box Z 4" }], sockets)).toEqual({
      fault: '"Box Z 4" is no socket of this rig; one is called Box A socket 1.',
    });
  });
});
