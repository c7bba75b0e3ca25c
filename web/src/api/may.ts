import { useVisitor } from "./door";

/** What a device may do, from the least to everything; each may what those before it may. */
const ORDER = ["look", "stage", "operate", "lead"] as const;
export type May = (typeof ORDER)[number];

/** Whether who looks at this page may do something: what he may not is no button to him. Not known yet is no. */
export function useMay(wanted: May): boolean {
  const may = useVisitor().data?.visitor?.may;
  return may !== undefined && ORDER.indexOf(may) >= ORDER.indexOf(wanted);
}
