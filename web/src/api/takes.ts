import { useOfShow } from "./asked";
import type { Take, TakeOverview } from "./client";

// Takes and their waveforms.

/** Takes, newest first, so many of them. */
export const useTakes = (limit = 50) =>
  useOfShow<{ count: number; takes: Take[] }>(["takes", "list", limit], `takes?limit=${limit}`, { placeholderData: (before) => before });

/** Waveforms of a take, so many values a track; anew while it is recorded. */
export const useOverview = (id: number, points: number, range: [number, number] | null, running: boolean) =>
  useOfShow<TakeOverview>(
    ["takes", "overview", id, points, range],
    `takes/${id}/overview?points=${points}${range ? `&from=${range[0]}&to=${range[1]}` : ""}`,
    { placeholderData: (before) => before, refetchInterval: running ? 3000 : false, retry: false },
  );
