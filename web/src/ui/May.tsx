import type { ReactNode } from "react";
import { type May as Right, useMay } from "../api/may";

/** Shown only to who may do it. */
export function May({ what, children }: { what: Right; children: ReactNode }) {
  return useMay(what) ? children : null;
}
