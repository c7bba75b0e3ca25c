/** What the server would send, as far as an example needs it; the other fields are not looked at. */
export const given = <T>(part: Partial<T>): T => part as T;

/** Numbers from 0 up to 1 that are the same in each run of a seed (a linear congruential generator). */
export function randomOf(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1_664_525 + 1_013_904_223) % 2 ** 32;
    return state / 2 ** 32;
  };
}
