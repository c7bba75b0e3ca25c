import { useEffect, useState } from "react";

/** A value once it has rested: what a pointer only passes over is not asked about. */
export function useSettled<T>(value: T, restMs = 60): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), restMs);
    return () => clearTimeout(timer);
  }, [value, restMs]);
  return settled;
}
