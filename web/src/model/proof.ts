import type { Proof } from "../api/client";

export type ProofLane = Proof["lanes"][number];

/** One thread of the picture: from a return lane to where it was heard, or planned and not heard. */
export interface HeardThread {
  key: string;
  lane: ProofLane;
  fromRow: number;
  /** null where it was heard nowhere: the thread ends in the open. */
  toRow: number | null;
  wrong: boolean;
}

export interface HeardPicture {
  threads: HeardThread[];
  /** Of the taller of both sides. */
  rows: number;
  /** By the row of its end: what is said beside a channel. */
  cells: { row: number; level: string; polarity: string; latency: string; odd: { level: boolean; polarity: boolean; latency: boolean } }[];
}

const WRONG = ["crossed", "doubled", "dead", "left on"];
/** Lanes that were silent on purpose have no thread. */
const DRAWN_UNHEARD = ["dead", "unknown"];

/** What was heard as rows and threads: lanes on the left, channels and mixes on the right, each in its own row. */
export function heardPicture(proof: Proof): HeardPicture {
  const rowOf = new Map(proof.ends.map(({ id }, row) => [id, row]));
  const threads = proof.lanes.flatMap((lane, fromRow): HeardThread[] => {
    if (lane.heard.length === 0)
      return DRAWN_UNHEARD.includes(lane.state) ? [{ key: `${lane.lane}`, lane, fromRow, toRow: null, wrong: lane.state === "dead" }] : [];
    return lane.heard.map(({ channel }) => ({
      key: `${lane.lane} ${channel}`,
      lane,
      fromRow,
      toRow: rowOf.get(channel) ?? null,
      wrong: WRONG.includes(lane.state),
    }));
  });
  const cells = proof.lanes.flatMap((lane) =>
    lane.heard.flatMap((arrival) => {
      const row = rowOf.get(arrival.channel);
      if (row === undefined || arrival.mix) return [];
      const over = proof.round_trip_frames === null ? 0 : arrival.latency_frames - proof.round_trip_frames;
      return [
        {
          row,
          level: arrival.gain_db.toFixed(1),
          polarity: arrival.inverted ? "turned over" : "as sent",
          latency: over === 0 ? `${arrival.latency_frames}` : `${proof.round_trip_frames} ${over > 0 ? "+" : "−"} ${Math.abs(over)}`,
          odd: {
            level: lane.faults.includes("level"),
            polarity: lane.faults.includes("turned") && arrival.inverted,
            latency: over !== 0,
          },
        },
      ];
    }),
  );
  return { threads, rows: Math.max(proof.lanes.length, proof.ends.length), cells };
}

/** "6 → channel 7": one lane in a line of words, for a page that has no room for the picture. */
export function laneWords(lane: ProofLane, label: (id: string) => string): string {
  if (lane.heard.length === 0) return unheardWords[lane.state] ?? "not heard";
  const where = lane.heard.map(({ channel }) => label(channel)).join(", ");
  return lane.faults.length > 0 ? `${where}: ${lane.faults.map((fault) => faultWords[fault]).join(", ")}` : where;
}

const unheardWords: Partial<Record<ProofLane["state"], string>> = {
  dead: "does not arrive",
  stage: "silent, as planned",
  unknown: "could not be heard",
};

export const faultWords: Record<ProofLane["faults"][number], string> = {
  turned: "turned over",
  level: "not at its level",
  late: "not with the others",
  coloured: "coloured",
};

/** Frames as time, where a page says both. */
export const framesMs = (frames: number, rateHz: number): string => `${((frames / rateHz) * 1000).toFixed(1)} ms`;
