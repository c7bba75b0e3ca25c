import type { QueryClient } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useSyncExternalStore } from "react";
import { byLane, type Levels, lanesIn, together } from "../model/levels";
import { heardLevels, heardState } from "../model/liveState";
import { TABLET_PX } from "../model/widths";
import type { Show } from "./client";
import { EDITS, readAnew } from "./edits";
import { Line, type LineNews } from "./line";
import type { TabSays } from "./lineWorker";
import { useOpenShow } from "./openShow";
import type { components } from "./schema";

type Told = components["schemas"]["Told"];

/** What is played after what plays. */
type Coming = NonNullable<NonNullable<Told["state"]["deck"]>["next"]>;

/** What is known of engine, deck and desk at this moment; levels stand at their lane's place. */
export interface Frame extends Omit<Told["state"], "desk" | "deck"> {
  meters: { peak_dbfs: number[]; held_dbfs: number[]; clips: number[] } | null;
  deck: {
    playing: (NonNullable<NonNullable<Told["state"]["deck"]>["playing"]> & { peak_dbfs: number[] }) | null;
    next: Coming | null;
  } | null;
  desk: { answers: boolean; peaks: number[] | null };
}

const NOTHING: Frame = {
  meters: null,
  engine: null,
  engine_silent_s: 0,
  deck: null,
  deck_silent_s: 0,
  desk: { answers: false, peaks: null },
};
let frame: Frame = NOTHING;
/** The state as the server tells it, without levels. */
let state: Told["state"] | null = null;
/** When something was heard last, by this page's own clock. */
let heardMs = performance.now();
/** The newest levels as they came, while they wait to be painted; what is told seldom is kept of all that came. */
let waiting: Told["levels"] | null = null;
let painting = false;
let connected = false;
/** Whether anything was heard since the line stood; what nobody has said yet is no fault for a moment. */
let heardAny = false;
let openedMs = performance.now();
const PATIENCE_MS = 2000;
const watchers = new Set<() => void>();

function tell() {
  for (const watcher of watchers) watcher();
}

/**
 * What came is laid together when the page is about to be painted, of levels only the newest: a slow machine repaints
 * less often instead of falling further and further behind.
 */
function paint() {
  painting = false;
  if (state === null) return;
  frame = laidTogether(state, waiting, frame);
  waiting = null;
  tell();
}

function soon() {
  heardAny = true;
  heardMs = performance.now();
  if (!painting) requestAnimationFrame(paint);
  painting = true;
}

function laidTogether(now: Told["state"], levels: Told["levels"] | null, before: Frame): Frame {
  const playing = now.deck?.playing;
  return {
    ...now,
    meters: metersOf(levels, before.meters),
    deck: now.deck && {
      next: now.deck.next ?? null,
      playing: playing
        ? {
            ...playing,
            position_frames: levels?.position_frames ?? playing.position_frames,
            peak_dbfs: levels?.files_dbfs ?? before.deck?.playing?.peak_dbfs ?? [],
          }
        : null,
    },
    desk: {
      ...now.desk,
      peaks: !now.desk.answers ? null : levels && "desk_dbfs" in levels ? (levels.desk_dbfs ?? null) : before.desk.peaks,
    },
  };
}

function metersOf(levels: Told["levels"] | null, before: Frame["meters"]): Frame["meters"] {
  if (levels === null) return before;
  if (levels.lanes === null) return null;
  const lanes = lanesIn(levels.lanes);
  const at = <T>(values: number[] | undefined, known: T) => (values ? byLane(lanes, values) : known);
  return {
    peak_dbfs: at(levels.peak_dbfs, before?.peak_dbfs ?? []),
    held_dbfs: at(levels.held_dbfs, before?.held_dbfs ?? []),
    clips: at(levels.clips, before?.clips ?? []),
  };
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => {
    watchers.delete(watcher);
  };
}

/** How a page comes by its events: by a worker that all tabs share, where there is such a thing; else by a line of its own. */
interface Hearing {
  want: (levels: Levels | null) => void;
  leave: () => void;
}

/** A tab says that often that it is still there. */
const HERE_MS = 5000;

function hearing(tell: (news: LineNews) => void): Hearing {
  if (typeof SharedWorker === "undefined") {
    const line = new Line(tell);
    return { want: (levels) => line.want(levels), leave: () => line.close() };
  }
  const worker = new SharedWorker(new URL("./lineWorker.ts", import.meta.url), { type: "module", name: "loomshuttle" });
  worker.port.onmessage = ({ data }: MessageEvent<LineNews>) => tell(data);
  const says = (said: TabSays) => worker.port.postMessage(said);
  let wanted: Levels | null = null;
  let here = true;
  setInterval(() => here && says({ levels: wanted }), HERE_MS);
  return {
    want: (levels) => {
      wanted = levels;
      here = true;
      says({ levels });
    },
    leave: () => {
      here = false;
      says({ bye: true });
    },
  };
}

/** What the parts of this page that look at levels want of them. */
const lookers = new Set<Levels>();
let line: Hearing | null = null;
let settling = false;

/** What one paint takes away and brings is settled at once: the line changes once. */
function settle() {
  if (settling) return;
  settling = true;
  queueMicrotask(() => {
    settling = false;
    line?.want(together([...lookers]));
  });
}

/** As often as the engine tells, which is as often as an eye follows; a phone on the venue's network has less to hear. */
const rateHz = () => (window.innerWidth < TABLET_PX ? 10 : 20);

/** Called by whatever shows levels: as long as it is there, they come, of these lanes and, if told so, of the desk. */
export function useLevels({ lanes = [], desk = false }: { lanes?: number[]; desk?: boolean }) {
  const wanted = JSON.stringify({ rateHz: rateHz(), lanes, desk } satisfies Levels);
  useEffect(() => {
    const looker = JSON.parse(wanted) as Levels;
    lookers.add(looker);
    settle();
    return () => {
      lookers.delete(looker);
      settle();
    };
  }, [wanted]);
}

/** Begins to hear; a page that is left says so at once. */
export function connect(client: QueryClient) {
  const hear = listener(client);
  line = hearing(hear);
  settle();
  client.getMutationCache().subscribe(({ type }) => {
    if (type === "updated") for (const [id, version] of told) heard(client, id, version);
  });
  window.addEventListener("pagehide", () => line?.leave());
  window.addEventListener("pageshow", (event) => {
    if (event.persisted) settle();
  });
}

/** The newest version of each show that was told of while an edit of this page was on its way. */
const told = new Map<number, number>();

/**
 * Reads a show anew where somebody else changed it. One's own edit is answered with the show, and what is told of
 * it comes before that answer: reading everything meanwhile would only keep the answer waiting.
 */
function heard(client: QueryClient, id: number, version: number) {
  told.set(id, Math.max(told.get(id) ?? 0, version));
  if (client.isMutating({ predicate: ({ options }) => options.scope?.id === EDITS }) > 0) return;
  const known = client.getQueryData<{ version: number }>(["show", id])?.version;
  if (known !== undefined && (told.get(id) ?? 0) > known)
    readAnew(client, id).catch(() => client.invalidateQueries({ queryKey: ["show", id] }));
}

/** What is done with what the line says. */
function listener(client: QueryClient): (news: LineNews) => void {
  const anew = (...queryKey: unknown[]) => {
    client.invalidateQueries({ queryKey });
  };
  const acts: { [Name in Exclude<keyof Told, "state" | "change" | "levels" | "stands" | "here">]: (said: Told[Name]) => void } = {
    show: ({ id, version }) => heard(client, id, version),
    findings: ({ show, version, findings }) =>
      client.setQueryData<Show>(["show", show], (known) => (known?.version === version ? { ...known, findings } : known)),
    desk: () => {
      anew("desk-at");
      anew("on-air");
      client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === "show" && queryKey[2] === "desk" });
    },
    takes: ({ show }) => {
      anew("takes", show);
      anew("shelf");
    },
    session: ({ id }) => {
      anew("session", id);
      anew("show", id, "disk");
    },
    shows: () => anew("shelf"),
    on_air: () => {
      anew("shelf");
      anew("on-air");
      anew("show");
    },
    library: () => {
      anew("library");
      anew("show");
    },
    tasks: () => anew("tasks"),
    alarms: () => anew("alarms"),
    linecheck: ({ show }) => {
      anew("show", show, "linecheck");
      anew("show", show, "paper");
    },
    soundcheck: ({ show }) => {
      anew("show", show, "soundcheck");
    },
    lineup: ({ show }) => {
      anew("show", show, "lineup");
    },
    missed: () => {
      client.invalidateQueries();
    },
  };
  return (news) => {
    if (news.kind === "open") opened();
    else if (news.kind === "broken") broken();
    else if (news.name === "state" || news.name === "change") {
      state = heardState(state, news.name, JSON.parse(news.data));
      soon();
    } else if (news.name === "levels") {
      waiting = heardLevels(waiting, JSON.parse(news.data));
      soon();
    } else acts[news.name as keyof typeof acts]?.(JSON.parse(news.data));
  };
  function opened() {
    // A line that takes another's place has missed nothing.
    if (!connected) {
      told.clear();
      // What happened while the line was broken, or before it stood, was not heard.
      client.invalidateQueries();
    }
    if (!connected) openedMs = performance.now();
    connected = true;
    tell();
  }
  function broken() {
    // The line of a device that was taken out is closed; another one is refused.
    anew("door", "visitor");
    // What was known last stays, and is said to be old: a recorder that nobody hears is not one that stands still.
    connected = false;
    waiting = null;
    state = null;
    frame = { ...frame, meters: null, desk: { answers: false, peaks: null } };
    tell();
  }
}

/** A part of what engine, deck and desk say, whatever show is on air; the component repaints only when that changes. */
export const useMachine = <T extends string | number | boolean | null>(pick: (frame: Frame) => T): T =>
  useSyncExternalStore(watch, () => pick(frame));

/** The same for a page about a show that is not on air: no level, no take and nothing that plays is its own. */
const withoutSound = (whole: Frame): Frame => ({
  ...whole,
  meters: null,
  engine: whole.engine && { ...whole.engine, recording: null, last_take: null },
  deck: whole.deck && { ...whole.deck, playing: null, next: null },
  desk: { answers: whole.desk.answers, peaks: null },
});
let quiet = withoutSound(NOTHING);
let quietOf = NOTHING;
function quietFrame(): Frame {
  if (quietOf !== frame) {
    quietOf = frame;
    quiet = withoutSound(frame);
  }
  return quiet;
}

/** A part of what engine, deck and desk say of the open show. */
export const useFrame = <T extends string | number | boolean | null>(pick: (frame: Frame) => T): T => {
  const onAir = useOpenShow()?.onAir ?? true;
  return useSyncExternalStore(watch, () => pick(onAir ? frame : quietFrame()));
};

/** Paints by hand, with each frame that comes of the open show, what changes too often to be rendered anew. */
export function useEachFrame(paint: (frame: Frame) => void) {
  const onAir = useOpenShow()?.onAir ?? true;
  useLayoutEffect(() => {
    const now = () => paint(onAir ? frame : quietFrame());
    now();
    return watch(now);
  });
}

/** A page that hears nothing goes on counting how old its knowledge is. */
setInterval(() => (!connected || frame.engine_silent_s !== null) && tell(), 1000);

/** Seconds since the engine was last heard of, null while what is shown is of now. */
export const useEngineAge = (): number | null =>
  useSyncExternalStore(watch, () => {
    if (connected && frame.engine_silent_s === null) return null;
    if (connected && !heardAny && performance.now() - openedMs < PATIENCE_MS) return null;
    return Math.round((frame.engine_silent_s ?? 0) + (performance.now() - heardMs) / 1000);
  });

export const useConnected = (): boolean => useSyncExternalStore(watch, () => connected);
