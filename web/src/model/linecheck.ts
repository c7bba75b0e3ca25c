import type { Linecheck, LinecheckRow, Simulation } from "../api/client";

/** How many sources stand how, for a line of words and the row of stitches. */
export interface Counted {
  fine: number;
  wrong: number;
  skipped: number;
  open: number;
}

export function counted(rows: readonly LinecheckRow[]): Counted {
  const of = (state: LinecheckRow["state"]) => rows.filter((row) => row.state === state).length;
  return { fine: of("fine"), wrong: of("wrong"), skipped: of("skipped"), open: of("open") + of("again") };
}

/** "9 proved · 1 to mend · 2 open"; what there is none of is left out. */
export function countedWords({ fine, wrong, skipped, open }: Counted): string {
  const parts = [
    `${fine} proved`,
    ...(wrong ? [`${wrong} to mend`] : []),
    ...(skipped ? [`${skipped} skipped`] : []),
    ...(open ? [`${open} open`] : []),
  ];
  return parts.join(" · ");
}

/** The source whose turn it is. */
export const turnOf = (check: Linecheck): LinecheckRow | undefined => check.rows.find(({ id }) => id === check.turn);

/** What was found out last, unless it is still that one's turn. */
export function latest(check: Linecheck): LinecheckRow | undefined {
  const found = check.rows.filter(({ id, verdict }) => verdict && id !== check.turn);
  return found.reduce<LinecheckRow | undefined>(
    (last, row) => ((row.verdict?.at ?? "") > (last?.verdict?.at ?? "") ? row : last),
    undefined,
  );
}

/** The one before in the order of the check; the last before the first. */
export function before(check: Linecheck): string | undefined {
  const at = check.rows.findIndex(({ id }) => id === check.turn);
  return check.rows.at(at - 1)?.id;
}

type Kind = Simulation["planted"][number]["kind"];

/** Faults in the words of whoever planted them; a kind is planted on one source, a swap on two. */
export const plantedWords: Record<Kind, (name: string, other: string) => string> = {
  swap: (name, other) => `The plugs of ${name} and ${other} are swapped`,
  dead: (name) => `The cable of ${name} is dead`,
  phantom: (name) => `${name} gets no phantom power`,
  lane: (name) => `The lane of ${name} is dead`,
  hum: (name) => `${name} hums`,
  polarity: (name) => `The cable of ${name} is wired the other way round`,
  clip: (name) => `The preamp of ${name} is open much too far`,
  crossed: (name, other) => `The returns of ${name} and ${other} are crossed at the desk`,
  locked: (name) => `The channel of ${name} is locked at the desk`,
  return: (name) => `The channel of ${name} does not get its return`,
  bleed: (name) => `${name} bleeds into its neighbours`,
};

interface Chosen {
  kind: Kind;
  row: string;
  other?: string;
}

/** A fault to be found by somebody who learns, chosen by two numbers from 0 to 1; null where there are too few sources. */
export const chosenFault = (rows: readonly { id: string }[], one: number, two: number): Chosen | null =>
  chosen(["swap", "dead", "hum", "clip", "lane"], rows, one, two);

/** The same of the way back from the recorder. */
export const chosenReturnFault = (rows: readonly { id: string }[], one: number, two: number): Chosen | null =>
  chosen(["crossed", "return"], rows, one, two);

/** Before the swing only a lock is there to be found by it. */
export const chosenLock = (rows: readonly { id: string }[], one: number): Chosen | null => chosen(["locked"], rows, 0, one);

const OF_TWO: Kind[] = ["swap", "crossed"];

function chosen(kinds: Kind[], rows: readonly { id: string }[], one: number, two: number): Chosen | null {
  const kind = kinds[Math.min(kinds.length - 1, Math.floor(one * kinds.length))];
  const at = Math.min(rows.length - 1, Math.floor(two * rows.length));
  const row = rows[at]?.id;
  const other = rows[at + 1]?.id ?? rows[at - 1]?.id;
  if (kind === undefined || row === undefined || other === undefined) return null;
  return OF_TWO.includes(kind) ? { kind, row, other } : { kind, row };
}

/** "+6", "−3", "0": a change of level in dB. */
export const signedDb = (db: number): string => (db > 0 ? `+${db}` : db < 0 ? `−${-db}` : "0");
