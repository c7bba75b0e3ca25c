/** The faces of the Patch step; the first two are looms. Pure. */
export type Face = "patch" | "mixes" | "sheet" | "table";

export const isLoom = (face: Face): boolean => face === "patch" || face === "mixes";

/** What the server calls a loom: with several desks each has its own. */
export const loomName = (loom: "patch" | "mixes" | "outputs" | "sheet" | "table", desk: string | null, desks: number): string =>
  loom === "sheet" || loom === "table" ? "patch" : desks > 1 && desk ? `${loom}@${desk}` : loom;

const family = (id: string) => id.split("/")[1] ?? "";

/** The loom on which places of a finding of this step are to be seen. */
export function faceFor(places: readonly string[]): Face {
  return places.map(family).some((one) => one === "bus" || one === "main" || one === "matrix") ? "mixes" : "patch";
}

/** The desk that a finding is about, where it names one. */
export const deskFor = (places: readonly string[], desks: readonly { id: string }[]): string | null =>
  desks.find(({ id }) => places.some((place) => place.startsWith(`${id}/`)))?.id ?? null;
