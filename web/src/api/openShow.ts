import { createContext, useCallback, useContext } from "react";

/** The show that a page is about, and whether it is the one on air. */
export interface OpenShow {
  id: number;
  onAir: boolean;
}

const Open = createContext<OpenShow | null>(null);
export const OpenShowProvider = Open.Provider;

/** Null on pages that are about no show. */
export const useOpenShow = (): OpenShow | null => useContext(Open);

/** Of pages that are about a show. */
export function useShowId(): number {
  const open = useContext(Open);
  if (!open) throw new Error("This part of the page needs a show.");
  return open.id;
}

/** Where the API has something of a show. */
export const ofShow = (id: number, path: string): string => `/api/shows/${id}${path ? `/${path}` : ""}`;

/** Turns what the API calls something of the open show into its address. */
export function useShowPath(): (path: string) => string {
  const id = useShowId();
  return useCallback((path: string) => ofShow(id, path), [id]);
}
