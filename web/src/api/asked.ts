import { type QueryKey, type UseQueryOptions, useQuery } from "@tanstack/react-query";
import { api } from "./client";
import { ofShow, useShowId } from "./openShow";

// What is asked of the server for the open show.

/**
 * Something of the open show. Its key begins with "show" and the show's id for what hangs on the show's version, with
 * a word of its own for what does not.
 */
export function useOfShow<T>(key: QueryKey, path: string, more: Omit<UseQueryOptions<T>, "queryKey" | "queryFn"> = {}) {
  const id = useShowId();
  const [first, ...rest] = key;
  return useQuery<T>({ queryKey: [first, id, ...rest], queryFn: () => api.get<T>(ofShow(id, path)), ...more });
}

export const enc = encodeURIComponent;

export const places = (path: string | null) => (path ?? "").split("/").map(enc).join("/");
