import type { Edit } from "../api/client";

/** Runs of slots: where one begins, and which slots it has. Pure. */
export const slotsOf = (field: string, first: number, last: number): string[] =>
  Array.from({ length: Math.max(1, last - first + 1) }, (_, i) => `${field}/${first + i}`);

/** The field and the first slot of the eight around a place, where the place is a slot. */
export function blockAt(fields: readonly { name: string }[], place: string | null, fallback: string): { field: string; first: number } {
  const field = place?.slice(0, place.lastIndexOf("/")) ?? "";
  const number = Number(place?.slice(place.lastIndexOf("/") + 1));
  if (!fields.some(({ name }) => name === field) || !Number.isInteger(number)) return { field: fallback, first: 1 };
  return { field, first: Math.floor((number - 1) / 8) * 8 + 1 };
}

/** What can be laid for many slots at once, and what each still has to be told. */
export const runKinds = [
  { key: "shift", label: "Move by places", takes: "number" },
  { key: "reverse", label: "Reverse their order", takes: "none" },
  { key: "swap", label: "Swap first and last", takes: "none" },
  { key: "copy", label: "Patch them as another field", takes: "field" },
  { key: "tap", label: "Set the tap", takes: "tap" },
  { key: "delay", label: "Set the delay, ms", takes: "number" },
  { key: "free", label: "Clear these slots", takes: "none" },
  { key: "open", label: "Open the block to single choices", takes: "none" },
  { key: "close", label: "Close the block again", takes: "none" },
  { key: "soundcheck", label: "All lanes as for the soundcheck: raw", takes: "desk" },
  { key: "mix", label: "All lanes as in the mix: post-fader", takes: "desk" },
  { key: "tracks", label: "Make tracks of what arrives", takes: "computer" },
  { key: "spread", label: "Plug the list in, box by box", takes: "boxes" },
] as const;
export type RunKind = (typeof runKinds)[number]["key"];

/** A run as it is being chosen. */
export interface Run {
  kind: RunKind;
  desk: string;
  field: string;
  first: number;
  last: number;
  /** Places to move by, or milliseconds of delay. */
  by: number;
  /** The field whose layout is followed. */
  other: string;
  tap: string;
  boxes: string[];
  rows: string[];
  computer: string;
}

/** The edit of the API that a run stands for. */
export function editOf(run: Run): Edit {
  const { kind } = run;
  const slots = slotsOf(run.field, run.first, run.last);
  const first = `${run.field}/${run.first}`;
  switch (kind) {
    case "shift":
      return { kind, slots, by: run.by };
    case "reverse":
      return { kind, slots };
    case "swap":
      return { kind, one: first, other: slots[slots.length - 1] ?? first };
    case "copy":
      return { kind: "copy_layout", from_field: run.other, to_field: run.field };
    case "tap":
      return { kind: "retake", slots, tap: run.tap };
    case "delay":
      return { kind: "retake", slots, delay_ms: run.by };
    case "free":
      return { kind: "lay", takes: Object.fromEntries(slots.map((slot) => [slot, null])) };
    case "open":
    case "close":
      return { kind: "open_block", slot: first, open: kind === "open" };
    case "soundcheck":
    case "mix":
      return { kind: "record_taps", desk: run.desk, purpose: kind };
    case "tracks":
      return { kind: "make_tracks", computer: run.computer };
    case "spread":
      return { kind, rows: run.rows, boxes: run.boxes };
  }
}

/** What the history calls a run: what is done to which slots. */
export function wordsOf(run: Run, fieldLabel: string): string {
  const { kind, first, last, by } = run;
  const what = runKinds.find(({ key }) => key === kind);
  const slots = `${fieldLabel} ${first === last ? first : `${first}–${last}`}`;
  switch (kind) {
    case "shift":
      return `Move ${slots} by ${by}`;
    case "reverse":
      return `Reverse ${slots}`;
    case "swap":
      return `Swap ${fieldLabel} ${first} and ${last}`;
    case "tap":
      return `Take ${slots} at ${run.tap}`;
    case "delay":
      return `Delay ${slots} by ${by} ms`;
    case "free":
      return `Free ${slots}`;
    case "open":
    case "close":
      return `${kind === "open" ? "Open" : "Close"} the block of ${fieldLabel} ${first}`;
    case "copy":
      return `${fieldLabel} follows another layout`;
    default:
      return what?.label ?? kind;
  }
}
