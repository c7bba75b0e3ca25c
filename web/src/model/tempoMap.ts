import type { components } from "../api/schema";

export type TempoMap = components["schemas"]["TempoMap"];
type Tempo = TempoMap["tempi"][number];

/** What changes at a bar: tempo, time signature, or both. */
export interface Change {
  bar: number;
  /** Quarter notes into the bar: only tempi of MIDI files change within one. */
  within: number;
  bpm: number | null;
  meter: string | null;
  ramp: boolean;
}

interface Plain {
  bpm: number | null;
  beats_per_bar: number;
  tempo: TempoMap | null;
}

/** A song's map; of one without changes what it is throughout. */
export function mapOf(song: Plain): TempoMap | null {
  if (song.tempo) return song.tempo;
  if (song.bpm === null) return null;
  return {
    meters: [{ bar: 1, meter: `${song.beats_per_bar}/4` }],
    tempi: [{ bar: 1, bpm: song.bpm, quarters: 0, ramp: false }],
    pickup_beats: 0,
  };
}

/** "280/3" is 93.333…: numbers as they are shown. */
export function numberOf(value: number | string | undefined): number {
  if (typeof value !== "string") return value ?? 0;
  const [over, under] = value.split("/").map(Number);
  return under === undefined ? Number(value) : (over ?? 0) / under;
}

/** Changes in their order, tempo and time signature of one bar together. */
export function changesOf(map: TempoMap): Change[] {
  const tempi = map.tempi.map((tempo) => ({
    bar: tempo.bar,
    within: numberOf(tempo.quarters),
    bpm: numberOf(tempo.bpm),
    meter: null as string | null,
    ramp: tempo.ramp ?? false,
  }));
  const changes: Change[] = tempi.map((change) => ({
    ...change,
    meter: change.within === 0 ? (map.meters.find(({ bar }) => bar === change.bar)?.meter ?? null) : null,
  }));
  const alone = map.meters.filter(({ bar }) => !changes.some((change) => change.bar === bar && change.within === 0));
  return [...changes, ...alone.map(({ bar, meter }) => ({ bar, within: 0, bpm: null, meter, ramp: false }))].sort(
    (one, other) => one.bar - other.bar || one.within - other.within,
  );
}

const at = (tempo: Tempo, bar: number) => tempo.bar === bar && numberOf(tempo.quarters) === 0;
const inOrder = (tempi: Tempo[]) =>
  [...tempi].sort((one, other) => one.bar - other.bar || numberOf(one.quarters) - numberOf(other.quarters));

/** With another tempo from a bar on; null takes that change away. The first one stays. */
export function withTempo(map: TempoMap, bar: number, bpm: number | null, ramp: boolean): TempoMap {
  const others = map.tempi.filter((tempo) => !at(tempo, bar));
  if (bpm === null) return bar === 1 ? map : { ...map, tempi: others };
  return { ...map, tempi: inOrder([...others, { bar, bpm, quarters: 0, ramp }]) };
}

/** With another time signature from a bar on; null takes that change away. The first one stays. */
export function withMeter(map: TempoMap, bar: number, meter: string | null): TempoMap {
  const others = map.meters.filter((one) => one.bar !== bar);
  if (meter === null) return bar === 1 ? map : { ...map, meters: others };
  return { ...map, meters: [...others, { bar, meter }].sort((one, other) => one.bar - other.bar) };
}

/** "7 / 8" as "7/8"; null for what is no time signature. */
export function typedMeter(text: string): string | null {
  const found = /^\s*(\d{1,2})\s*\/\s*(\d{1,2})\s*$/.exec(text);
  const [beats, unit] = [Number(found?.[1]), Number(found?.[2])];
  return found && beats >= 1 && beats <= 64 && [1, 2, 4, 8, 16, 32, 64].includes(unit) ? `${beats}/${unit}` : null;
}
