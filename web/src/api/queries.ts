import { type QueryClient, type QueryKey, type UseQueryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { wordsIn, wordsOfEdit } from "../model/typed";
import { useNotice } from "../ui/notice";
import {
  type Alarm,
  ApiError,
  type AtDoor,
  type AudioDevice,
  api,
  type Bounced,
  type Change,
  type ControlWish,
  type CopyPlace,
  type DeskAt,
  type DeskControl,
  type DeskState,
  type DeviceTerms,
  type Disk,
  type Edited,
  type FieldName,
  type FieldTable,
  type Folders,
  type Guide,
  type HistoryEntry,
  type LetIn,
  type LibraryRole,
  type Linecheck,
  type LinecheckWish,
  type Lineup,
  type LineupTick,
  type Loom,
  type OnAir,
  type OwnSound,
  type Paper,
  type PingWish,
  type Press,
  type Preview,
  type RateForecast,
  type Rig,
  type RoleTable,
  type Scene,
  type SendTable,
  type Session,
  type Show,
  type ShowBody,
  type ShowList,
  type ShowPath,
  type ShowPlace,
  type Simulation,
  type SimulationWish,
  type SongLevel,
  type SongList,
  type SongPicture,
  type Soundcheck,
  type SoundcheckWish,
  type SwingPlan,
  type Take,
  type TakeOverview,
  type Task,
  type Template,
  type Trace,
  type WayIn,
  type WholeSong,
  type Why,
} from "./client";
import { ofShow, useOpenShow, useShowId } from "./openShow";
import { anyWaits, keepUnsent, reason, unanswered } from "./unsent";

/**
 * Something of the open show. Its key begins with "show" and the show's id for what hangs on the show's version, with
 * a word of its own for what does not.
 */
function useOfShow<T>(key: QueryKey, path: string, more: Omit<UseQueryOptions<T>, "queryKey" | "queryFn"> = {}) {
  const id = useShowId();
  const [first, ...rest] = key;
  return useQuery<T>({ queryKey: [first, id, ...rest], queryFn: () => api.get<T>(ofShow(id, path)), ...more });
}

const enc = encodeURIComponent;
const places = (path: string | null) => (path ?? "").split("/").map(enc).join("/");

/** The shows of one place that hold all words of `search`, so many of them. */
export const useShelf = (place: ShowPlace, search: string, limit: number) =>
  useQuery({
    queryKey: ["shelf", place, search, limit],
    queryFn: () => api.get<ShowList>(`/api/shows?place=${place}&search=${enc(search)}&limit=${limit}`),
    placeholderData: (before) => before,
  });
/** What putting the show on air would meet; asked anew each time. */
export const useOnAir = (on: boolean) => useOfShow<OnAir>(["on-air"], "on-air", { enabled: on, staleTime: 0, gcTime: 0, retry: false });

/** Who this device is; null where it was not let in. */
export const useVisitor = () => useQuery({ queryKey: ["door", "visitor"], queryFn: () => api.get<AtDoor>("/api/door"), retry: true });
/** Where others get in. Asked for again, because the door may fail while somebody looks. */
export const useWay = () => useQuery({ queryKey: ["door", "way"], queryFn: () => api.get<WayIn>("/api/door/way"), refetchInterval: 2000 });
/** Devices that were let in; who enters a code meanwhile is seen. */
export const useDevicesLetIn = () =>
  useQuery({ queryKey: ["door", "devices"], queryFn: () => api.get<LetIn>("/api/door/devices"), refetchInterval: 2000 });

/** Which desk is spoken to. */
export const useDeskAt = () => useQuery({ queryKey: ["desk-at"], queryFn: () => api.get<DeskAt>("/api/desk") });

export const useShowOf = (id: number) => useQuery({ queryKey: ["show", id], queryFn: () => api.get<Show>(ofShow(id, "")) });
export const useShow = () => useShowOf(useShowId());
/** What is missing until the show can be recorded. */
export const useGuide = () => useOfShow<Guide>(["show", "guide"], "guide");
export const useRig = () => useOfShow<Rig>(["show", "rig"], "rig");
export const useLoom = (name: string) => useOfShow<Loom>(["show", "loom", name], `looms/${enc(name)}`);
/** Takes, newest first, so many of them. */
export const useTakes = (limit = 50) =>
  useOfShow<{ count: number; takes: Take[] }>(["takes", "list", limit], `takes?limit=${limit}`, { placeholderData: (before) => before });
export const useDisk = () => useOfShow<Disk>(["show", "disk"], "disk", { refetchInterval: 5000 });
/** Songs of the library that hold all words of `search` in their title. */
export const useSongs = (search: string, limit: number) =>
  useQuery({
    queryKey: ["library", "songs", search, limit],
    queryFn: () => api.get<SongList>(`/api/library/songs?search=${enc(search)}&limit=${limit}`),
    placeholderData: (before) => before,
  });
export const useSong = (id: string) =>
  useQuery({ queryKey: ["library", "song", id], queryFn: () => api.get<WholeSong>(`/api/library/songs/${enc(id)}`) });
/** A song's waveform, and where its bars begin. */
export const useSongPicture = (id: string, points: number) =>
  useQuery({
    queryKey: ["library", "song", id, "overview", points],
    queryFn: () => api.get<SongPicture>(`/api/library/songs/${enc(id)}/overview?points=${points}`),
    placeholderData: (before) => before,
  });
/** Sounds that were brought for clicks and cues. */
export const useOwnSounds = () =>
  useQuery({
    queryKey: ["library", "sounds"],
    queryFn: () => api.get<{ sounds: OwnSound[] }>("/api/library/sounds").then(({ sounds }) => sounds),
  });
export const useRoles = () => useQuery({ queryKey: ["library", "roles"], queryFn: () => api.get<LibraryRole[]>("/api/library/roles") });
/** Which role is on which lanes and how loud, and mixes of roles. */
export const useRoleTable = () => useOfShow<RoleTable>(["show", "roles"], "roles");
export const useSongLevels = (target_lufs: number) =>
  useOfShow<SongLevel[]>(["show", "levels", target_lufs], `levels?target_lufs=${target_lufs}`, { placeholderData: (before) => before });
export const useBounces = () => useOfShow<Bounced[]>(["show", "bounces"], "bounces");
/** What the worker is at. Time left goes on being worked out while it runs. */
export const useTasks = () => useQuery({ queryKey: ["tasks"], queryFn: () => api.get<Task[]>("/api/tasks") });
/** Folders of the recording computer; null lists where one may begin. */
export const useFolders = (path: string | null) =>
  useQuery({
    queryKey: ["folders", path],
    queryFn: () => api.get<Folders>(`/api/library/folders${path ? `?path=${enc(path)}` : ""}`),
    staleTime: 0,
    placeholderData: (before) => before,
  });
export const useAlarms = () => useQuery({ queryKey: ["alarms"], queryFn: () => api.get<Alarm[]>("/api/alarms") });
/** The guided line check, the same on every page; whether the ear answers is looked at while it should listen. */
export const useLinecheck = () =>
  useOfShow<Linecheck>(["show", "linecheck"], "linecheck", {
    refetchInterval: (query) => (query.state.data?.listening || query.state.data?.measuring ? 2000 : false),
  });
/** Preamps, faders and mutes, which somebody may move at the desk meanwhile. */
export const useControls = (on: boolean) =>
  useOfShow<DeskControl[]>(["show", "controls"], "controls", { enabled: on, retry: false, refetchInterval: 2000 });
/** What was proved of the way back, the same on every page. */
export const useSoundcheck = () => useOfShow<Soundcheck>(["show", "soundcheck"], "soundcheck");
/** What is simulated beside the desk, while there is one that answers; somebody may plant at another page. */
export const useSimulation = (on: boolean) =>
  useOfShow<Simulation>(["show", "simulation"], "simulation", { enabled: on, retry: false, refetchInterval: 3000 });
export const useSession = () => useOfShow<Session>(["session"], "session");
export const usePlaces = (on: boolean) =>
  useQuery({ queryKey: ["places"], queryFn: () => api.get<CopyPlace[]>("/api/places"), enabled: on, staleTime: 0 });
/** What a device would cost and save, in words. */
export const useDeviceTerms = (wish: { rate_hz: number; block_frames: number; lanes_in: number } | null) => {
  const id = useShowId();
  return useQuery({
    queryKey: ["show", id, "device-terms", wish],
    queryFn: () => api.post<DeviceTerms>(ofShow(id, "device/terms"), wish ?? {}),
    enabled: wish !== null,
    placeholderData: (before) => before,
  });
};
export const useDevices = (on: boolean) =>
  useQuery({ queryKey: ["devices"], queryFn: () => api.get<AudioDevice[]>("/api/devices"), enabled: on, staleTime: 0 });

/** Waveforms of a take, so many values a track; anew while it is recorded. */
export const useOverview = (id: number, points: number, range: [number, number] | null, running: boolean) =>
  useOfShow<TakeOverview>(
    ["takes", "overview", id, points, range],
    `takes/${id}/overview?points=${points}${range ? `&from=${range[0]}&to=${range[1]}` : ""}`,
    { placeholderData: (before) => before, refetchInterval: running ? 3000 : false, retry: false },
  );
export const useDesk = () => useOfShow<DeskState>(["show", "desk"], "desk", { retry: false });
export const useScenes = () => useOfShow<Scene[]>(["show", "scenes"], "scenes");
export const useFields = () => useOfShow<FieldName[]>(["show", "fields"], "fields");
/** One field of one device, "desk/card-send", slot by slot. */
export const useFieldTable = (field: string | null) =>
  useOfShow<FieldTable>(["show", "field", field], `fields/${places(field)}`, {
    enabled: field !== null,
    placeholderData: (before) => (before?.field === field ? before : undefined),
  });
export const useMixes = () => useOfShow<FieldName[]>(["show", "mixes"], "mixes");

/** What is sent to one mix, "desk/bus/1". */
export const useSendTable = (mix: string | null) =>
  useOfShow<SendTable>(["show", "sends", mix], `mixes/${places(mix)}`, {
    enabled: mix !== null,
    placeholderData: (before) => (before?.mix === mix ? before : undefined),
  });
/** The newest edits, so many of them. */
export const useHistory = (limit = 50) =>
  useOfShow<HistoryEntry[]>(["show", "history", limit], `history?limit=${limit}`, { placeholderData: (before) => before });
/** What was pressed while the show played. */
export const usePresses = () => useOfShow<Press[]>(["show", "presses"], "presses", { refetchInterval: 5000 });
export const usePaper = () => useOfShow<Paper>(["show", "paper"], "paper");
export const useTemplates = () => useQuery({ queryKey: ["templates"], queryFn: () => api.get<Template[]>("/api/library/templates") });

export const useTrace = (endpoint: string | null) =>
  useOfShow<Trace>(["show", "trace", endpoint], `trace?endpoint=${enc(endpoint ?? "")}`, {
    enabled: endpoint !== null,
    placeholderData: (before) => before,
  });

/** "Why is nothing here?" */
export const useWhy = (endpoint: string | null) =>
  useOfShow<Why>(["show", "why", endpoint], `why?endpoint=${enc(endpoint ?? "")}`, { enabled: endpoint !== null });

export const useScenesCompared = (from: string, to: string) =>
  useOfShow<{ changes: Change[] }>(["show", "compare", from, to], `scenes/compare?from=${enc(from)}&to=${enc(to)}`, {
    enabled: from !== to,
  });

/** What a cable would do before it is laid. */
export const useCableForecast = (ends: { a: string; b: string } | null) =>
  useOfShow<{ fits: boolean; sentence: string }>(["show", "cable", ends], `rig/cable?a=${enc(ends?.a ?? "")}&b=${enc(ends?.b ?? "")}`, {
    enabled: ends !== null,
  });

export const useRateForecast = (rateHz: number | null) =>
  useOfShow<RateForecast>(["show", "rate", rateHz], `rig/rate?rate_hz=${rateHz}`, { enabled: rateHz !== null });

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

/**
 * A command to the server: on success what it may have changed is read anew, a refusal is said. A path without a
 * slash before it is one of the open show. `typed` is what something typed is called: it is not lost when the server
 * does not answer.
 */
export function useCommand<T = unknown>(
  path: string,
  invalidates: "show" | "takes" | "templates" | "alarms" | "ribbon" | "shelf" | "tasks" = "show",
  typed?: string,
) {
  const client = useQueryClient();
  const open = useOpenShow();
  const { say, ask } = useNotice();
  const whole = path.startsWith("/") ? path : ofShow(open?.id ?? 0, path);
  const command = useMutation({
    mutationFn: (body: object) => api.post<T>(whole, body),
    onSettled: () => client.invalidateQueries({ queryKey: [invalidates] }),
    onError: (error, body) => {
      if (typed !== undefined && unanswered(error))
        return keepUnsent({ path: whole, body, show: null, label: typed, typed: wordsIn(body), why: reason(error) });
      const needed = neededWord(error);
      return needed ? ask(secondWord(error, needed), () => command.mutate({ ...body, [needed]: true })) : say(error.message, "error");
    },
  });
  return command;
}

/** What is done on a page about the stage, answered with how it stands then. */
function useStageCommand<Wish extends object, Answer>(path: string, part = path) {
  const client = useQueryClient();
  const id = useShowId();
  const { say } = useNotice();
  return useMutation({
    mutationFn: (wish: Wish) => api.post<Answer>(ofShow(id, path), wish),
    onSuccess: (answer) => client.setQueryData(["show", id, part], answer),
    onError: (error) => {
      client.invalidateQueries({ queryKey: ["show", id, part] });
      say(error.message, "error");
    },
  });
}
export const useLinecheckCommand = () => useStageCommand<LinecheckWish, Linecheck>("linecheck");
/** A ping is sent, heard and judged: that takes some seconds. */
export const usePing = () => useStageCommand<PingWish, Soundcheck>("soundcheck/ping", "soundcheck");
export const useSoundcheckCommand = () => useStageCommand<SoundcheckWish, Soundcheck>("soundcheck");
export const useOpenAgain = () => useStageCommand<Record<string, never>, Soundcheck>("soundcheck/open", "soundcheck");
/** Which lanes were found at the desk, the same on every page. */
export const useLineup = () => useOfShow<Lineup>(["show", "lineup"], "lineup");
export const useTick = () => useStageCommand<LineupTick, Lineup>("lineup/tick", "lineup");
export const useControlCommand = () => useStageCommand<ControlWish, DeskControl[]>("controls");
export const useSimulationCommand = () => useStageCommand<SimulationWish, Simulation>("simulation");

const SECOND_WORDS: Record<string, string> = { during_take: "A take is running", on_recorder: "The desk listens to the recorder" };

const secondWord = (error: Error, field: string) => ({ title: SECOND_WORDS[field] ?? "", text: error.message, yes: "Do it all the same" });

/** What would hurt a running take, or record from the recorder, is asked for a second time: the field that says so. */
const neededWord = (error: Error): string | null =>
  error instanceof ApiError && error.status === 409 && error.field in SECOND_WORDS ? error.field : null;

/** Edits of this page go one after the other. */
export const EDITS = "show";

/** The loom of a show that is on the screen, so that an edit can be answered with it. */
function loomOnScreen(client: QueryClient, id: number): string | undefined {
  const shown = client.getQueryCache().findAll({ queryKey: ["show", id, "loom"], type: "active" })[0];
  return shown ? String(shown.queryKey[3]) : undefined;
}

/**
 * Lays an edit's answer into the cache: the show and its loom are not asked for again, and what was asked for before
 * the edit must not come in over it.
 */
async function takeOver(client: QueryClient, id: number, loom: string | undefined, answer: Edited) {
  await client.cancelQueries({ queryKey: ["show", id] });
  client.setQueryData(["show", id], answer.show);
  if (loom && answer.loom) client.setQueryData(["show", id, "loom", loom], answer.loom);
  client.invalidateQueries({
    predicate: ({ queryKey: [kind, show, part, name] }) =>
      kind === "show" && show === id && part !== undefined && !(part === "loom" && name === loom),
  });
}

/** Reads show and loom anew in one, so that the page never shows two versions side by side. */
export async function readAnew(client: QueryClient, id: number) {
  const loom = loomOnScreen(client, id);
  const answer = await api.get<Edited>(ofShow(id, `page${loom ? `?loom=${enc(loom)}` : ""}`));
  const known = client.getQueryData<Show>(["show", id])?.version ?? 0;
  if (answer.version >= known) await takeOver(client, id, loom, answer);
}

/**
 * Edits carry the version that was looked at when they were begun: the newest one on hand when their turn comes, or
 * one that is given. They go one after the other. Each is answered with the show as it is then. Where somebody else
 * changed the same meanwhile it is asked for before that is written over.
 */
export function useShowCommand<Path extends ShowPath>(path: Path, after?: () => void) {
  const client = useQueryClient();
  const { say, ask } = useNotice();
  const id = useShowId();
  const scope = { id: EDITS };
  const otherWay = useMutation({
    scope,
    mutationFn: (body: ShowBody<"edits">) => change(client, id, "edits", body),
    onError: (error) => say(error.message, "error"),
  });
  const command = useMutation({
    scope,
    mutationFn: (body: Versioned<Path>) => change(client, id, path, body),
    onSuccess: () => after?.(),
    onError: async (error, body) => {
      if (path === "edits" && unanswered(error)) return waits(id, body, reason(error));
      const field = error instanceof ApiError ? error.field : "";
      const needed = neededWord(error);
      if (needed) return ask(secondWord(error, needed), () => command.mutate({ ...body, [needed]: true }));
      if (field === "version" || field === "meanwhile") await readAnew(client, id).catch(() => undefined);
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
  return (body: Versioned<Path>) => {
    const version = body.version ?? client.getQueryData<Show>(["show", id])?.version ?? 1;
    const edit = path === "edits" ? { ...body, version, request: crypto.randomUUID() } : body;
    // What is typed behind something that waits for the server waits behind it.
    if (path === "edits" && anyWaits(id)) waits(id, edit, "");
    else command.mutate(edit);
  };
}

/** Keeps an edit that nobody has answered. */
function waits(id: number, body: object, why: string) {
  const { label, edit } = body as { label?: string; edit: { kind: string } };
  keepUnsent({ path: ofShow(id, "edits"), body, show: id, label: label ?? "An edit", typed: wordsOfEdit(edit), why });
}

/** What changes the show, and the version that was looked at when it was begun. */
type Versioned<Path extends ShowPath> = ShowBody<Path> & { version?: number };

async function change<Path extends ShowPath>(client: QueryClient, id: number, path: Path, body: Versioned<Path>) {
  const loom = loomOnScreen(client, id);
  const version = body.version ?? client.getQueryData<Show>(["show", id])?.version ?? 1;
  await takeOver(client, id, loom, await api.post<Edited>(ofShow(id, path), { ...(loom ? { loom } : {}), ...body, version }));
}
