import type { components } from "../api/schema";

type Told = components["schemas"]["Told"];

/** What the server tells of engine, deck and desk: a whole, then what is another in it. Pure. */
type Plain = { readonly [key: string]: unknown };

const isPlain = (value: unknown): value is Plain => typeof value === "object" && value !== null && !Array.isArray(value);

/** A state with what is another in it: objects are gone into, all else stands in the place of what was; null is gone. */
export function changed<T>(state: T, change: Plain): T {
  if (!isPlain(state)) return change as T;
  const made: Record<string, unknown> = { ...state };
  for (const [key, value] of Object.entries(change)) made[key] = isPlain(made[key]) && isPlain(value) ? changed(made[key], value) : value;
  return made as T;
}

/** The state after one event; a change of what is not known yet waits for the whole. */
export function heardState(state: Told["state"] | null, name: "state" | "change", said: Plain): Told["state"] | null {
  if (name === "state") return said as unknown as Told["state"];
  return state && changed(state, said);
}

/** The newest levels, with what is told seldom kept of those before, as long as they tell of the same lanes. */
export const heardLevels = (levels: Told["levels"] | null, said: Told["levels"]): Told["levels"] =>
  levels?.lanes === said.lanes ? { ...levels, ...said } : said;
