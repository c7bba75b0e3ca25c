/** An id of its own from a name: "Box B" is box-b, a second one box-b-2; what has no letter is called otherwise. */
export function ownId(name: string, taken: Iterable<string>, otherwise: string): string {
  const base =
    name
      .toLowerCase()
      .normalize("NFKD")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 50) || otherwise;
  const others = new Set(taken);
  let id = base;
  for (let number = 2; others.has(id); number += 1) id = `${base}-${number}`;
  return id;
}
