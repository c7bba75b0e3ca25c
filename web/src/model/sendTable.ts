import type { Edit, SendTable } from "../api/client";
import type { GridColumn, Typed } from "./grid";

/** What one mix is made of as a sheet: a line for everything that can be sent to it. Pure. */
export const columns: readonly GridColumn[] = [
  { key: "label", title: "From", width: 170, fixed: true },
  { key: "carries", title: "Carries", width: 190, fixed: true },
  { key: "level_db", title: "Level dB, empty is off", width: 160 },
  { key: "tap", title: "Tap", width: 108, choices: ["pre-fader", "post-fader"] },
];

const USUAL_TAP = "post-fader";

/** What a cell shows. */
export function textOf(table: SendTable, line: number, key: string): string {
  const send = table.lines[line];
  if (!send) return "";
  if (key === "level_db") return send.level_db === null ? "" : String(send.level_db);
  if (key === "tap") return send.tap ?? "";
  return key === "label" ? send.label : send.carries;
}

/** The edit that writes cells, or in words which cell cannot be. An empty level takes the send off. */
export function editOf(table: SendTable, typed: Typed[]): { edit: Edit } | { fault: string } {
  const sends = new Map<string, { level_db: number | null; tap: string }>();
  for (const { row, key, value } of typed) {
    const line = table.lines[row];
    if (!line) continue;
    const sofar = sends.get(line.id) ?? { level_db: line.level_db, tap: line.tap ?? USUAL_TAP };
    const plain = value.trim().replace(",", ".").replace("−", "-");
    if (key === "tap") sends.set(line.id, { ...sofar, tap: plain || sofar.tap });
    else if (plain === "") sends.set(line.id, { ...sofar, level_db: null });
    else if (Number.isNaN(Number(plain))) return { fault: `${line.label}: "${value}" is no level in dB.` };
    else sends.set(line.id, { ...sofar, level_db: Number(plain) });
  }
  const edits = [...sends].flatMap(([channel, { level_db, tap }]): Edit[] => {
    const was = table.lines.find(({ id }) => id === channel);
    // A tap alone makes no send.
    if (level_db === null) return was?.level_db == null ? [] : [{ kind: "send", channel, mix: table.mix, on: false }];
    return [{ kind: "send", channel, mix: table.mix, level_db, tap }];
  });
  return { edit: { kind: "group", edits } };
}
