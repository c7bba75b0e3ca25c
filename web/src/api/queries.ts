import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../ui/notice";
import {
  type Alarm,
  ApiError,
  type AudioDevice,
  api,
  type Change,
  type CopyPlace,
  type DeskState,
  type DeviceTerms,
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
  type Session,
  type Show,
  type ShowBody,
  type ShowPath,
  type SwingPlan,
  type Take,
  type TakeOverview,
  type Template,
  type Trace,
  type Why,
} from "./client";

export const useShow = () => useQuery({ queryKey: ["show"], queryFn: () => api.get<Show>("/api/show") });
export const useRig = () => useQuery({ queryKey: ["show", "rig"], queryFn: () => api.get<Rig>("/api/rig") });
export const useLoom = (name: string) => useQuery({ queryKey: ["show", "loom", name], queryFn: () => api.get<Loom>(`/api/looms/${name}`) });
export const useTakes = () => useQuery({ queryKey: ["takes"], queryFn: () => api.get<Take[]>("/api/takes") });
export const useDisk = () => useQuery({ queryKey: ["show", "disk"], queryFn: () => api.get<Disk>("/api/disk"), refetchInterval: 5000 });
export const useAlarms = () => useQuery({ queryKey: ["alarms"], queryFn: () => api.get<Alarm[]>("/api/alarms") });
export const useSession = () => useQuery({ queryKey: ["session"], queryFn: () => api.get<Session>("/api/session") });
export const usePlaces = (on: boolean) =>
  useQuery({ queryKey: ["places"], queryFn: () => api.get<CopyPlace[]>("/api/places"), enabled: on, staleTime: 0 });
/** What a device would cost and save, in words. */
export const useDeviceTerms = (wish: { rate_hz: number; block_frames: number; lanes_in: number } | null) =>
  useQuery({
    queryKey: ["show", "device-terms", wish],
    queryFn: () => api.post<DeviceTerms>("/api/device/terms", wish ?? {}),
    enabled: wish !== null,
    placeholderData: (before) => before,
  });
export const useDevices = (on: boolean) =>
  useQuery({ queryKey: ["devices"], queryFn: () => api.get<AudioDevice[]>("/api/devices"), enabled: on, staleTime: 0 });

/** Waveforms of a take, so many values a track; anew while it is recorded. */
export const useOverview = (id: number, points: number, range: [number, number] | null, running: boolean) =>
  useQuery({
    queryKey: ["takes", "overview", id, points, range],
    queryFn: () => api.get<TakeOverview>(`/api/takes/${id}/overview?points=${points}${range ? `&from=${range[0]}&to=${range[1]}` : ""}`),
    placeholderData: (before) => before,
    refetchInterval: running ? 3000 : false,
    retry: false,
  });
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

export const useSwingPlan = (to: "recorder" | "stage", keep: string[], desk: string | null) =>
  useQuery({
    queryKey: ["show", "swing", to, keep, desk],
    queryFn: () => api.get<SwingPlan>(`/api/swing?to=${to}&keep=${encodeURIComponent(keep.join(","))}${desk ? `&desk=${desk}` : ""}`),
    retry: false,
  });

/** A command to the server: on success everything about the show is read anew, a refusal is said. */
export function useCommand<T = unknown>(path: string, invalidates: "show" | "takes" | "templates" | "alarms" | "ribbon" = "show") {
  const client = useQueryClient();
  const { say, ask } = useNotice();
  const command = useMutation({
    mutationFn: (body: object) => api.post<T>(path, body),
    onSettled: () => client.invalidateQueries({ queryKey: [invalidates] }),
    onError: (error, body) =>
      needsAsking(error) ? ask(takeRuns(error), () => command.mutate({ ...body, during_take: true })) : say(error.message, "error"),
  });
  return command;
}

const takeRuns = (error: Error) => ({ title: "A take is running", text: error.message, yes: "Do it all the same" });

/** What would hurt the running take is asked for a second time. */
const needsAsking = (error: Error): boolean => error instanceof ApiError && error.status === 409 && error.field === "during_take";

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

/** Reads show and loom anew in one, so that the page never shows two versions side by side. */
export async function readAnew(client: QueryClient) {
  const loom = loomOnScreen(client);
  const answer = await api.get<Edited>(`/api/page${loom ? `?loom=${encodeURIComponent(loom)}` : ""}`);
  const known = client.getQueryData<Show>(["show"])?.version ?? 0;
  if (answer.version >= known) await takeOver(client, loom, answer);
}

/**
 * Edits carry the version that was looked at when they were begun: the newest one on hand when their turn comes, or
 * one that is given. They go one after the other. Each is answered with the show as it is then. Where somebody else
 * changed the same meanwhile it is asked for before that is written over.
 */
export function useShowCommand<Path extends ShowPath>(path: Path, after?: () => void) {
  const client = useQueryClient();
  const { say, ask } = useNotice();
  const scope = { id: EDITS };
  const otherWay = useMutation({
    scope,
    mutationFn: (body: ShowBody<"/api/edits">) => change(client, "/api/edits", body),
    onError: (error) => say(error.message, "error"),
  });
  const command = useMutation({
    scope,
    mutationFn: (body: Versioned<Path>) => change(client, path, body),
    onSuccess: () => after?.(),
    onError: async (error, body) => {
      const field = error instanceof ApiError ? error.field : "";
      if (needsAsking(error)) return ask(takeRuns(error), () => command.mutate({ ...body, during_take: true }));
      if (field === "version" || field === "meanwhile") await readAnew(client).catch(() => undefined);
      if (field === "meanwhile") {
        const { version: _, ...mine } = body;
        return ask({ title: "Somebody else was here", text: error.message, yes: "Write mine all the same" }, () =>
          command.mutate(mine as Versioned<Path>),
        );
      }
      const way = error instanceof ApiError ? error.way : undefined;
      say(error.message, "error", way && { label: way.label, onAct: () => otherWay.mutate(way) });
    },
  });
  return (body: Versioned<Path>) => command.mutate(body);
}

/** What changes the show, and the version that was looked at when it was begun. */
type Versioned<Path extends ShowPath> = ShowBody<Path> & { version?: number };

async function change<Path extends ShowPath>(client: QueryClient, path: Path, body: Versioned<Path>) {
  const loom = loomOnScreen(client);
  const version = body.version ?? client.getQueryData<Show>(["show"])?.version ?? 1;
  await takeOver(client, loom, await api.post<Edited>(path, { ...(loom ? { loom } : {}), ...body, version }));
}
