import type { Row } from "../api/client";
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
      return row.pair?.split("/")[2] ?? "";
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
export function editOf(rows: Row[], typed: Typed[], sockets: Socket[]): { edit: object } | { fault: string } {
  const cells: Record<string, Record<string, unknown>> = {};
  const plugs: object[] = [];
  const last = rows[rows.length - 1]?.number ?? 0;
  for (const { row, key, value } of typed) {
    const there = rows[row];
    const id = there?.id ?? `list/row/${last + row - rows.length + 1}`;
    const plain = value.trim();
    if (!there && plain === "" && key !== "name") continue;
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
      [key]: key === "safe" ? plain === "yes" : key === "pair" ? (plain === "" ? null : `list/row/${plain}`) : plain,
    };
  }
  for (const [id, line] of Object.entries(cells)) if (!rows.some((row) => row.id === id) && !line.name) line.name = "New source";
  for (const plug of plugs as { row: string }[])
    if (!rows.some((row) => row.id === plug.row) && !cells[plug.row]) cells[plug.row] = { name: "New source" };
  const edits = [...(Object.keys(cells).length > 0 ? [{ kind: "rows", rows: cells }] : []), ...plugs];
  return { edit: { kind: "group", edits } };
}
