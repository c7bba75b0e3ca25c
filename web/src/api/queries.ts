import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../ui/notice";
import {
  ApiError,
  api,
  type Change,
  type DeskState,
  type Disk,
  type Edited,
  type FieldName,
  type FieldTable,
  type HistoryEntry,
  type Loom,
  type Paper,
  type Preview,
  type RateForecast,
  type Rig,
  type Scene,
  type SendTable,
  type Show,
  type SwingPlan,
  type Take,
  type Template,
  type Trace,
  type Why,
} from "./client";

export const useShow = () => useQuery({ queryKey: ["show"], queryFn: () => api.get<Show>("/api/show") });
export const useRig = () => useQuery({ queryKey: ["show", "rig"], queryFn: () => api.get<Rig>("/api/rig") });
export const useLoom = (name: string) => useQuery({ queryKey: ["show", "loom", name], queryFn: () => api.get<Loom>(`/api/looms/${name}`) });
export const useTakes = () => useQuery({ queryKey: ["takes"], queryFn: () => api.get<Take[]>("/api/takes") });
export const useDisk = () => useQuery({ queryKey: ["show", "disk"], queryFn: () => api.get<Disk>("/api/disk"), refetchInterval: 5000 });
export const useDesk = () => useQuery({ queryKey: ["show", "desk"], queryFn: () => api.get<DeskState>("/api/desk"), retry: false });
export const useScenes = () => useQuery({ queryKey: ["show", "scenes"], queryFn: () => api.get<Scene[]>("/api/scenes") });
export const useFields = () => useQuery({ queryKey: ["show", "fields"], queryFn: () => api.get<FieldName[]>("/api/fields") });
/** One field of one device, "desk/card-send", slot by slot. */
export const useFieldTable = (field: string | null) =>
  useQuery({
    queryKey: ["show", "field", field],
    queryFn: () => api.get<FieldTable>(`/api/fields/${(field ?? "").split("/").map(encodeURIComponent).join("/")}`),
    enabled: field !== null,
    placeholderData: (before) => (before?.field === field ? before : undefined),
  });
export const useMixes = () => useQuery({ queryKey: ["show", "mixes"], queryFn: () => api.get<FieldName[]>("/api/mixes") });

/** What is sent to one mix, "desk/bus/1". */
export const useSendTable = (mix: string | null) =>
  useQuery({
    queryKey: ["show", "sends", mix],
    queryFn: () => api.get<SendTable>(`/api/mixes/${(mix ?? "").split("/").map(encodeURIComponent).join("/")}`),
    enabled: mix !== null,
    placeholderData: (before) => (before?.mix === mix ? before : undefined),
  });
export const useHistory = () => useQuery({ queryKey: ["show", "history"], queryFn: () => api.get<HistoryEntry[]>("/api/history") });
export const usePaper = () => useQuery({ queryKey: ["show", "paper"], queryFn: () => api.get<Paper>("/api/paper") });
export const useTemplates = () => useQuery({ queryKey: ["templates"], queryFn: () => api.get<Template[]>("/api/templates") });

export const useTrace = (endpoint: string | null) =>
  useQuery({
    queryKey: ["show", "trace", endpoint],
    queryFn: () => api.get<Trace>(`/api/trace?endpoint=${encodeURIComponent(endpoint ?? "")}`),
    enabled: endpoint !== null,
    placeholderData: (before) => before,
  });

/** "Why is nothing here?" */
export const useWhy = (endpoint: string | null) =>
  useQuery({
    queryKey: ["show", "why", endpoint],
    queryFn: () => api.get<Why>(`/api/why?endpoint=${encodeURIComponent(endpoint ?? "")}`),
    enabled: endpoint !== null,
  });

export const useScenesCompared = (from: string, to: string) =>
  useQuery({
    queryKey: ["show", "compare", from, to],
    queryFn: () => api.get<{ changes: Change[] }>(`/api/scenes/compare?from=${encodeURIComponent(from)}&to=${encodeURIComponent(to)}`),
    enabled: from !== to,
  });

/** What a cable would do before it is laid. */
export const useCableForecast = (ends: { a: string; b: string } | null) =>
  useQuery({
    queryKey: ["show", "cable", ends?.a, ends?.b],
    queryFn: () =>
      api.get<{ fits: boolean; sentence: string }>(
        `/api/rig/cable?a=${encodeURIComponent(ends?.a ?? "")}&b=${encodeURIComponent(ends?.b ?? "")}`,
      ),
    enabled: ends !== null,
  });

export const useRateForecast = (rateHz: number | null) =>
  useQuery({
    queryKey: ["show", "rate", rateHz],
    queryFn: () => api.get<RateForecast>(`/api/rig/rate?rate_hz=${rateHz}`),
    enabled: rateHz !== null,
  });

/** What an edit or a join would change; a refusal is the query's error. */
export const usePreview = (what: object | null) =>
  useQuery({
    queryKey: ["show", "preview", what],
    queryFn: () => api.post<Preview>("/api/preview", what ?? {}),
    enabled: what !== null,
    retry: false,
    gcTime: 0,
  });

export const useSwingPlan = (to: "recorder" | "stage", keep: string[]) =>
  useQuery({
    queryKey: ["show", "swing", to, keep],
    queryFn: () => api.get<SwingPlan>(`/api/swing?to=${to}&keep=${encodeURIComponent(keep.join(","))}`),
    retry: false,
  });

/** A command to the server: on success everything about the show is read anew, a refusal is said. */
export function useCommand<T = unknown>(path: string, invalidates: "show" | "takes" | "templates" = "show") {
  const client = useQueryClient();
  const { say } = useNotice();
  return useMutation({
    mutationFn: (body: object) => api.post<T>(path, body),
    onSettled: () => client.invalidateQueries({ queryKey: [invalidates] }),
    onError: (error) => say(error.message, "error"),
  });
}

/** Edits of this page go one after the other. */
export const EDITS = "show";

/** The loom that is on the screen, so that an edit can be answered with it. */
function loomOnScreen(client: QueryClient): string | undefined {
  const shown = client.getQueryCache().findAll({ queryKey: ["show", "loom"], type: "active" })[0];
  return shown ? String(shown.queryKey[2]) : undefined;
}

/**
 * Lays an edit's answer into the cache: the show and its loom are not asked for again, and what was asked for before
 * the edit must not come in over it.
 */
async function takeOver(client: QueryClient, loom: string | undefined, answer: Edited) {
  await client.cancelQueries({ queryKey: ["show"] });
  client.setQueryData(["show"], answer.show);
  if (loom && answer.loom) client.setQueryData(["show", "loom", loom], answer.loom);
  client.invalidateQueries({
    predicate: ({ queryKey }) => queryKey[0] === "show" && queryKey.length > 1 && !(queryKey[1] === "loom" && queryKey[2] === loom),
  });
}

/**
 * Edits carry the version that they are made for, the newest one on hand when their turn comes:
 * they go one after the other. Each is answered with the show as it is then.
 */
export function useShowCommand(path: string, after?: () => void) {
  const client = useQueryClient();
  const { say } = useNotice();
  const command = useMutation({
    scope: { id: EDITS },
    mutationFn: async (body: object) => {
      const loom = loomOnScreen(client);
      const version = client.getQueryData<Show>(["show"])?.version ?? 1;
      const answer = await api.post<Edited>(path, { version, ...(loom ? { loom } : {}), ...body });
      await takeOver(client, loom, answer);
      return answer;
    },
    onSuccess: () => after?.(),
    onError: (error) => {
      say(error.message, "error");
      if (error instanceof ApiError && error.status === 409) client.invalidateQueries({ queryKey: ["show"] });
    },
  });
  return (body: object = {}) => command.mutate(body);
}
