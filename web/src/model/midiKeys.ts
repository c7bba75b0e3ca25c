/** What a pedal or a pad sends: a note or a controller of one channel, from 1. */
export interface MidiKey {
  kind: "note" | "controller";
  channel: number;
  number: number;
}

/**
 * One message of MIDI 1.0 as a key that goes down or comes up; null for what is no key. A note on of velocity 0 is a
 * note off; a switch is on from 64.
 */
export function readMessage([status = 0, number = 0, value = 0]: number[]): { key: MidiKey; down: boolean } | null {
  const channel = (status & 0x0f) + 1;
  switch (status & 0xf0) {
    case 0x90:
      return { key: { kind: "note", channel, number }, down: value > 0 };
    case 0x80:
      return { key: { kind: "note", channel, number }, down: false };
    case 0xb0:
      return { key: { kind: "controller", channel, number }, down: value >= 64 };
    default:
      return null;
  }
}

/** The same key whoever asks: as text, so that it can be looked up and kept. */
export const keyText = ({ kind, channel, number }: MidiKey): string => `${kind} ${number} on channel ${channel}`;

/** Which key does what, by action; a key does one thing, whoever learns it last has it. */
export type Learnt = Record<string, string>;

export function learn(learnt: Learnt, action: string, key: MidiKey): Learnt {
  const text = keyText(key);
  return { ...Object.fromEntries(Object.entries(learnt).filter(([, known]) => known !== text)), [action]: text };
}

export const forget = (learnt: Learnt, action: string): Learnt =>
  Object.fromEntries(Object.entries(learnt).filter(([known]) => known !== action));

/** The action of a key, null for a key that nobody has taught anything. */
export const actionOf = (learnt: Learnt, key: MidiKey): string | null =>
  Object.entries(learnt).find(([, text]) => text === keyText(key))?.[0] ?? null;

/** What was kept, as far as it can be read. */
export function readLearnt(text: string | null): Learnt {
  try {
    const data: unknown = JSON.parse(text ?? "{}");
    if (typeof data !== "object" || data === null || Array.isArray(data)) return {};
    return Object.fromEntries(Object.entries(data).filter((pair): pair is [string, string] => typeof pair[1] === "string"));
  } catch {
    return {};
  }
}
