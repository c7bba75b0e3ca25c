import type { Edit, FieldTable } from "../api/client";
import type { GridColumn, Typed } from "./grid";

/** One field of the patch as a sheet: what each slot takes, at which tap, with how much delay. Pure. */
export function columnsOf(table: FieldTable): GridColumn[] {
  const tapped = table.slots.some((slot) => slot.taps.length > 1);
  return [
    { key: "number", title: "Slot", width: 64, fixed: true },
    ...(table.block > 1 ? [{ key: "block", title: "Block", width: 96, fixed: true }] : []),
    { key: "takes", title: "Takes", width: 210, counts: true },
    { key: "arrives", title: "What arrives", width: 200, fixed: true },
    ...(tapped ? [{ key: "tap", title: "Tap", width: 108, choices: TAPS }] : []),
    ...(table.delay_max_ms > 0 ? [{ key: "delay_ms", title: `Delay, 0 to ${table.delay_max_ms} ms`, width: 150 }] : []),
    { key: "name", title: "Name", width: 130 },
  ];
}

const TAPS = ["raw", "in", "pre-eq", "post-eq", "pre-fader", "post-fader"];

/** What a cell shows. */
export function textOf(table: FieldTable, line: number, key: string): string {
  const slot = table.slots[line];
  if (!slot) return "";
  switch (key) {
    case "number":
      return String(slot.number);
    case "block": {
      const first = Math.floor((slot.number - 1) / table.block) * table.block + 1;
      return slot.opened ? `${first}–${first + table.block - 1}, open` : `${first}–${first + table.block - 1}`;
    }
    case "name":
      return slot.name;
    case "tap":
      return slot.tap ?? "";
    case "delay_ms":
      return slot.delay_ms === 0 ? "" : String(slot.delay_ms);
    default:
      return key === "takes" ? slot.takes : slot.arrives;
  }
}

interface Take {
  from?: string;
  tap?: string;
  delay_ms?: number;
}

/** The edit that writes cells, or in words which cell cannot be. An empty "Takes" frees its slot. */
export function editOf(table: FieldTable, typed: Typed[]): { edit: Edit } | { fault: string } {
  const takes: Record<string, Take | null> = {};
  const names: Edit[] = [];
  for (const { row, key, value } of typed) {
    const slot = table.slots[row];
    if (!slot) continue;
    const plain = value.trim();
    if (key === "name") {
      names.push({ kind: "rename", id: slot.id, name: plain });
      continue;
    }
    const sofar = takes[slot.id];
    if (key === "takes") {
      if (plain === "") takes[slot.id] = null;
      else {
        const source = sourceOf(table, plain);
        if (!source)
          return {
            fault: `Slot ${slot.number}: "${plain}" is nothing that it can take; one is called ${table.sources[0]?.label ?? "nothing"}.`,
          };
        takes[slot.id] = { ...sofar, from: source };
      }
    } else if (sofar !== null && plain !== "" && (slot.takes !== "" || sofar)) {
      if (key === "tap") takes[slot.id] = { ...sofar, tap: plain };
      else if (Number.isNaN(Number(plain.replace(",", "."))))
        return { fault: `Slot ${slot.number}: "${plain}" is no number of milliseconds.` };
      else takes[slot.id] = { ...sofar, delay_ms: Number(plain.replace(",", ".")) };
    } else if (key === "delay_ms" && plain === "" && slot.takes !== "" && sofar !== null) takes[slot.id] = { ...sofar, delay_ms: 0 };
  }
  if (names.length === 0) return { edit: { kind: "lay", takes } };
  return { edit: { kind: "group", edits: [...names, ...(Object.keys(takes).length > 0 ? [{ kind: "lay" as const, takes }] : [])] } };
}

/** A source by its label or its id, whatever the case; of "Main L (main 1)" either name will do, where only one has it. */
function sourceOf(table: FieldTable, text: string): string | undefined {
  const plain = text.toLowerCase();
  const whole = table.sources.find(({ id, label }) => id === text || label.toLowerCase() === plain);
  if (whole) return whole.id;
  const half = table.sources.filter(({ label }) => /^(.*) \((.*)\)$/.exec(label.toLowerCase())?.slice(1).includes(plain));
  return half.length === 1 ? half[0]?.id : undefined;
}
