/** The faces of the Patch step; the first three are looms. Pure. */
export type Face = "patch" | "mixes" | "outputs" | "sheet" | "table";

export const isLoom = (face: Face): boolean => face === "patch" || face === "mixes" || face === "outputs";

/** What the server calls the loom: with several desks each has its own. */
export const loomName = (face: Face, desk: string | null, desks: number): string =>
  isLoom(face) ? (desks > 1 && desk ? `${face}@${desk}` : face) : "patch";

const family = (id: string) => id.split("/")[1] ?? "";

/** The loom on which places of a finding are to be seen. */
export function faceFor(places: readonly string[]): Face {
  const families = places.map(family);
  if (families.some((one) => one === "out-socket" || one === "output")) return "outputs";
  return families.some((one) => one === "bus" || one === "main" || one === "matrix") ? "mixes" : "patch";
}

/** The desk that a finding is about, where it names one. */
export const deskFor = (places: readonly string[], desks: readonly { id: string }[]): string | null =>
  desks.find(({ id }) => places.some((place) => place.startsWith(`${id}/`)))?.id ?? null;
