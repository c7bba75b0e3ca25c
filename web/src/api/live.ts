import type { QueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { EDITS, readAnew } from "./queries";
import type { components } from "./schema";

/** One frame from engine, deck and desk, about 20 a second. */
export type Frame = components["schemas"]["LiveFrame"];

const NOTHING: Frame = {
  meters: null,
  engine: null,
  engine_silent_s: 0,
  deck: null,
  deck_silent_s: 0,
  desk: { answers: false, peaks: null },
};
let frame: Frame = NOTHING;
/** When the newest frame came, by this page's own clock. */
let heardMs = performance.now();
/** The newest frame as it came, while it waits to be painted. */
let waiting: string | null = null;
let connected = false;
const watchers = new Set<() => void>();

function tell() {
  for (const watcher of watchers) watcher();
}

/**
 * Frames are read when the page is about to be painted, and only the newest of them: a slow machine repaints less
 * often instead of falling further and further behind.
 */
function paint() {
  if (waiting === null) return;
  frame = JSON.parse(waiting) as Frame;
  heardMs = performance.now();
  waiting = null;
  tell();
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/**
 * Opens the one line of events of this page; the browser opens it again whenever it breaks. A page
 * that is left gives its line back at once: a browser keeps left pages for a while, and has only six
 * lines to a server.
 */
export function connect(client: QueryClient) {
  let events = listen(client);
  client.getMutationCache().subscribe(({ type }) => type === "updated" && hear(client, told));
  window.addEventListener("pagehide", () => events.close());
  window.addEventListener("pageshow", (event) => {
    if (event.persisted) events = listen(client, true);
  });
}

/** The newest version of the show that was told of while an edit of this page was on its way. */
let told = 0;

/**
 * Reads the show anew where somebody else changed it. One's own edit is answered with the show, and what is told of
 * it comes before that answer: reading everything meanwhile would only keep the answer waiting.
 */
function hear(client: QueryClient, version: number) {
  told = Math.max(told, version);
  if (client.isMutating({ predicate: ({ options }) => options.scope?.id === EDITS }) > 0) return;
  const known = client.getQueryData<{ version: number }>(["show"])?.version ?? 0;
  if (told > known) readAnew(client).catch(() => client.invalidateQueries({ queryKey: ["show"] }));
}

function listen(client: QueryClient, missed = false): EventSource {
  const events = new EventSource("/api/events");
  let stale = missed;
  events.onopen = () => {
    connected = true;
    told = 0;
    // What happened while the line was broken, or before it stood, was not heard.
    if (stale) client.invalidateQueries();
    else if (client.getQueryData(["show"])) client.invalidateQueries({ queryKey: ["show"], exact: true });
    stale = true;
    tell();
  };
  events.onerror = () => {
    // What was known last stays, and is said to be old: a recorder that nobody hears is not one that stands still.
    connected = false;
    waiting = null;
    frame = { ...frame, meters: null, desk: { answers: false, peaks: null } };
    tell();
  };
  events.addEventListener("frame", (event) => {
    if (waiting === null) requestAnimationFrame(paint);
    waiting = event.data;
  });
  events.addEventListener("show", (event) => hear(client, (JSON.parse(event.data) as { version: number }).version));
  events.addEventListener("desk", () =>
    client.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] === "show" && queryKey.length < 3 }),
  );
  events.addEventListener("takes", () => {
    client.invalidateQueries({ queryKey: ["takes"] });
    // What is found hangs on the takes as well.
    client.invalidateQueries({ queryKey: ["show"], exact: true });
    client.invalidateQueries({ queryKey: ["session"] });
  });
  events.addEventListener("alarms", () => client.invalidateQueries({ queryKey: ["alarms"] }));
  return events;
}

/** A part of the newest frame; the component repaints only when that part changes. */
export const useFrame = <T extends string | number | boolean | null>(pick: (frame: Frame) => T): T =>
  useSyncExternalStore(watch, () => pick(frame));
/** A page that hears nothing goes on counting how old its knowledge is. */
setInterval(() => (!connected || frame.engine_silent_s !== null) && tell(), 1000);

/** Seconds since the engine was last heard of, null while what is shown is of now. */
export const useEngineAge = (): number | null =>
  useSyncExternalStore(watch, () => {
    if (connected && frame.engine_silent_s === null) return null;
    return Math.round((frame.engine_silent_s ?? 0) + (performance.now() - heardMs) / 1000);
  });

export const useConnected = (): boolean => useSyncExternalStore(watch, () => connected);
