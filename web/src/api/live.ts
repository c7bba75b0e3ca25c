import type { QueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";

/** One frame from engine and desk, about 20 a second. */
export interface Frame {
  meters: { peak_dbfs: number[]; rms_dbfs: number[]; clips: number[] } | null;
  engine: {
    device: { state: string; rate_hz: number | null; fault: string | null };
    recording: { take: { number: number }; frames: number; lost_blocks: number; tracks: number } | null;
    playing: {
      label: string;
      position_frames: number;
      length_frames: number;
      peak_dbfs: number[];
      underruns: number;
      repeat: boolean;
    } | null;
    last_take: { number: number; frames: number; lost_blocks: number; reason: string } | null;
    recovered: string[];
  } | null;
  desk: { answers: boolean; peaks: number[] | null };
}

const NOTHING: Frame = { meters: null, engine: null, desk: { answers: false, peaks: null } };
let frame: Frame = NOTHING;
let connected = false;
const watchers = new Set<() => void>();

function tell() {
  for (const watcher of watchers) watcher();
}

function watch(watcher: () => void) {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** Opens the one line of events of this page; the browser opens it again whenever it breaks. */
export function connect(client: QueryClient) {
  const events = new EventSource("/api/events");
  events.onopen = () => {
    connected = true;
    client.invalidateQueries();
    tell();
  };
  events.onerror = () => {
    connected = false;
    frame = NOTHING;
    tell();
  };
  events.addEventListener("frame", (event) => {
    frame = JSON.parse(event.data) as Frame;
    tell();
  });
  events.addEventListener("show", () => client.invalidateQueries({ queryKey: ["show"] }));
  events.addEventListener("takes", () => client.invalidateQueries({ queryKey: ["takes"] }));
  return () => events.close();
}

/** A part of the newest frame; the component repaints only when that part changes. */
export const useFrame = <T extends string | number | boolean | null>(pick: (frame: Frame) => T): T =>
  useSyncExternalStore(watch, () => pick(frame));
/** The whole frame, for what repaints with every one. */
export const useWholeFrame = (): Frame => useSyncExternalStore(watch, () => frame);
export const useConnected = (): boolean => useSyncExternalStore(watch, () => connected);
