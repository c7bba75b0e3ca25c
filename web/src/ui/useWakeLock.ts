import { useEffect } from "react";

/** Keeps the screen awake while a page for the stage is shown, where the browser can; it may be asked for only while it is seen. */
export function useWakeLock(wanted: boolean) {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let left = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      // Refused where the battery is low: then the device sleeps as it always does.
      const got = await navigator.wakeLock.request("screen").catch(() => null);
      if (left) await got?.release();
      else lock = got;
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      left = true;
      document.removeEventListener("visibilitychange", ask);
      lock?.release();
    };
  }, [wanted]);
}
