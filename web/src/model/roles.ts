import type { Edit, EditOf, RoleTable } from "../api/client";

export type RoleLine = RoleTable["roles"][number];
export type MixLine = RoleTable["mixes"][number];
export const FOLDS_DB = [-3, -4.5, -6] as const;
export type FoldLaw = (typeof FOLDS_DB)[number];

/** The edit that lays a role or a mix on lanes instead of those that it was on. */
export function laid(source: string, before: string[], lanes: string[]): EditOf<"group"> {
  const edits: Edit[] = [
    ...before.filter((slot) => !lanes.includes(slot)).map((slot): Edit => ({ kind: "clear", slot })),
    ...lanes.filter((slot) => !before.includes(slot)).map((slot): Edit => ({ kind: "connect", slot, from: source })),
  ];
  return { kind: "group", edits };
}

export const roleEndpoint = (name: string) => `songs/role/${name}`;

/** Members as an edit wants them. */
export const members = (levels: MixLine["members"]) =>
  Object.fromEntries(Object.entries(levels).map(([role, level_db]) => [roleEndpoint(role), level_db]));

export const laneNumber = (id: string) => Number(id.split("/").at(-1));

/** "lane 29" or "lanes 29 and 30"; nothing for none. */
export const laneWords = (numbers: number[]) =>
  numbers.length === 0 ? "no lane" : `lane${numbers.length > 1 ? "s" : ""} ${numbers.join(" and ")}`;

export const dbWords = (db: number) => `${db > 0 ? "+" : db < 0 ? "−" : ""}${Math.abs(db)} dB`;

/** What a role is here that the library does not say. */
export function unusual(line: RoleLine): string[] {
  const here = line.lanes.map(laneNumber);
  const same = here.length === line.usual_lanes.length && here.every((lane, at) => lane === line.usual_lanes[at]);
  return [
    ...(line.usual_lanes.length > 0 && !same ? [`usually ${laneWords(line.usual_lanes)}`] : []),
    ...(line.own_gain_db !== null && line.own_gain_db !== line.usual_gain_db ? [`usually ${dbWords(line.usual_gain_db)}`] : []),
    ...(line.own_fold_db !== null && line.own_fold_db !== line.usual_fold_db ? [`usually folded at ${dbWords(line.usual_fold_db)}`] : []),
  ];
}
