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
