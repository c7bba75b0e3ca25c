import { useSyncExternalStore } from "react";

const KEY = "loomshuttle.desk-line";
const listeners = new Set<() => void>();

/** Whether somebody said that this desk has no control line: then its silence is no fault. */
export function useDeskLine(): [boolean, (has: boolean) => void] {
  const has = useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => localStorage.getItem(KEY) !== "none",
  );
  const set = (now: boolean) => {
    localStorage.setItem(KEY, now ? "there" : "none");
    for (const tell of listeners) tell();
  };
  return [has, set];
}
