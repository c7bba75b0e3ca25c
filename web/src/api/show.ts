import { useQuery } from "@tanstack/react-query";
import { enc, useOfShow } from "./asked";
import {
  api,
  type Change,
  type DeskState,
  type Guide,
  type HistoryEntry,
  type Paper,
  type Preview,
  type Scene,
  type Show,
  type SwingPlan,
} from "./client";
import { ofShow, useShowId } from "./openShow";

// The open show, its history, scenes and paper, and what an edit or a swing would change.

export const useShowOf = (id: number) => useQuery({ queryKey: ["show", id], queryFn: () => api.get<Show>(ofShow(id, "")) });

export const useShow = () => useShowOf(useShowId());

/** What is missing until the show can be recorded. */
export const useGuide = () => useOfShow<Guide>(["show", "guide"], "guide");

/** The newest edits, so many of them. */
export const useHistory = (limit = 50) =>
  useOfShow<HistoryEntry[]>(["show", "history", limit], `history?limit=${limit}`, { placeholderData: (before) => before });

export const useScenes = () => useOfShow<Scene[]>(["show", "scenes"], "scenes");

export const useScenesCompared = (from: string, to: string) =>
  useOfShow<{ changes: Change[] }>(["show", "compare", from, to], `scenes/compare?from=${enc(from)}&to=${enc(to)}`, {
    enabled: from !== to,
  });

export const usePaper = () => useOfShow<Paper>(["show", "paper"], "paper");

export const useDesk = () => useOfShow<DeskState>(["show", "desk"], "desk", { retry: false });

/** What an edit or a join would change; a refusal is the query's error. */
export const usePreview = (what: object | null) => {
  const id = useShowId();
  return useQuery({
    queryKey: ["show", id, "preview", what],
    queryFn: () => api.post<Preview>(ofShow(id, "preview"), what ?? {}),
    enabled: what !== null,
    retry: false,
    gcTime: 0,
  });
};

export const useSwingPlan = (to: "recorder" | "stage", keep: string[], desk: string | null, enabled = true) =>
  useOfShow<SwingPlan>(["show", "swing", to, keep, desk], `swing?to=${to}&keep=${enc(keep.join(","))}${desk ? `&desk=${desk}` : ""}`, {
    retry: false,
    enabled,
  });
