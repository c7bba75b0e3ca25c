import type { Edit, Row } from "../api/client";
import { freshId } from "./freshId";
import type { GridColumn, Typed } from "./grid";

/** The input list as a sheet: its columns, and the edit that cells make. Pure. */
export type Column =
  | "number"
  | "name"
  | "short"
  | "kind"
  | "mic"
  | "stand"
  | "phantom"
  | "socket"
  | "channels"
  | "group"
  | "colour"
  | "stitch"
  | "pair"
  | "safe"
  | "notes";

export const columns: readonly (GridColumn & { key: Column })[] = [
  { key: "number", title: "No.", width: 52, fixed: true },
  { key: "name", title: "Source", width: 150, needed: true },
  { key: "short", title: "Short", width: 76 },
  { key: "kind", title: "By", width: 96, choices: ["microphone", "DI", "line", "wireless"] },
  { key: "mic", title: "Mic / DI", width: 140 },
  { key: "stand", title: "Stand", width: 90 },
  { key: "phantom", title: "48 V", width: 58, choices: ["yes", "no", "never"] },
  { key: "socket", title: "Plugged in at", width: 128, counts: true },
  { key: "channels", title: "Channel", width: 66, fixed: true },
  { key: "group", title: "Group", width: 78 },
  { key: "colour", title: "Colour", width: 86, choices: ["madder", "weld", "woad", "indigo", "walnut", "lichen", "cochineal", "slate"] },
  { key: "stitch", title: "Stitch", width: 68, choices: ["solid", "dash", "dot", "double"] },
  { key: "pair", title: "Pair", width: 50 },
  { key: "safe", title: "Safe", width: 50, choices: ["no", "yes"] },
  { key: "notes", title: "Notes", width: 160 },
];

/** What a cell shows. */
export function text(row: Row, key: Column): string {
  switch (key) {
    case "number":
      return String(row.number);
    case "socket":
      return row.socket_label ?? "";
    case "channels":
      return row.channels.join(", ");
    case "pair":
      return row.pair_number === null ? "" : String(row.pair_number);
    case "safe":
      return row.safe ? "yes" : "no";
    default:
      return row[key];
  }
}

export interface Socket {
  id: string;
  label: string;
  short: string;
}

/**
 * The edit that writes cells, or in words which cell cannot be. Lines beyond the list become new
 * rows, numbered on from the last.
 */
export function editOf(rows: Row[], typed: Typed[], sockets: Socket[]): { edit: Edit } | { fault: string } {
  const cells: Record<string, Record<string, string | number | boolean | null>> = {};
  const plugs: Edit[] = [];
  const last = rows[rows.length - 1]?.number ?? 0;
  const added = new Map<number, { id: string; number: number }>();
  const newRow = (row: number) => {
    const made = added.get(row) ?? { id: `list/row/${freshId()}`, number: last + row - rows.length + 1 };
    added.set(row, made);
    return made;
  };
  const withNumber = (number: string) =>
    [...rows, ...added.values()].find((row) => String(row.number) === number)?.id ?? `list/row/${number}`;
  for (const { row, key, value } of typed) {
    const there = rows[row];
    // A line break within a cell is one space: a row is one line everywhere else.
    const plain = value.trim().replace(/\s*\n\s*/g, " ");
    if (!there && plain === "" && key !== "name") continue;
    const id = (there ?? newRow(row)).id;
    if (key === "socket") {
      const socket =
        plain === ""
          ? null
          : sockets.find(({ id: own, label, short }) => [own, label, short].some((one) => one.toLowerCase() === plain.toLowerCase()));
      if (socket === undefined)
        return { fault: `"${plain}" is no socket of this rig; one is called ${sockets[0]?.label ?? "nothing yet"}.` };
      plugs.push({ kind: "plug", row: id, socket: socket?.id ?? null });
      continue;
    }
    cells[id] = {
      ...cells[id],
      [key]: key === "safe" ? plain === "yes" : key === "pair" ? (plain === "" ? null : withNumber(plain)) : plain,
    };
  }
  // Rows that follow the list are numbered where they are written: somebody else may just have added one.
  const gaps = [...added.keys()].sort((a, b) => a - b).some((row, place) => row !== rows.length + place);
  for (const { id, number } of added.values())
    cells[id] = { ...cells[id], name: cells[id]?.name || "New source", ...(gaps ? { number } : {}) };
  const rowsEdit: Edit[] = Object.keys(cells).length > 0 ? [{ kind: "rows", rows: cells }] : [];
  return { edit: { kind: "group", edits: [...rowsEdit, ...plugs] } };
}

/** The edit that makes pairs of rows. */
export const pairsEdit = (pairs: readonly string[][]): Edit => ({
  kind: "rows",
  rows: Object.fromEntries(pairs.map(([one = "", other = ""]) => [one, { pair: other }])),
});

/** What the history calls a writing: a colour or stitch is its group's, where the row has one. */
export const writingOf = (row: Row | undefined, typed: readonly Typed[], label: string): string =>
  row?.group && typed.length === 1 && (typed[0]?.key === "colour" || typed[0]?.key === "stitch")
    ? `${typed[0].key === "colour" ? "Colour" : "Stitch"} of the group ${row.group}`
    : label;
