import { useEffect, useSyncExternalStore } from "react";

/** How many parts of the page want the room beside them just now. */
let wanted = 0;
const watchers = new Set<() => void>();

function want(by: number) {
  wanted += by;
  for (const watcher of watchers) watcher();
}

/** While it holds, what stands beside the step folds where there is not room for both. */
export function useWantsRoom(holds: boolean) {
  useEffect(() => {
    if (!holds) return;
    want(1);
    return () => want(-1);
  }, [holds]);
}

const watch = (watcher: () => void) => {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
};

export const useRoomWanted = () => useSyncExternalStore(watch, () => wanted > 0);
