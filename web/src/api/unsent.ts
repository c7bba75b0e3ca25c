import type { QueryClient } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { ApiError, api, type Show } from "./client";

/** Something that was typed and could not be kept, because the server did not answer or refused it. */
export interface Unsent {
  id: string;
  path: string;
  body: object;
  /** The show whose version it was made for. */
  show: number | null;
  /** What it is called, and what was typed. */
  label: string;
  typed: string;
  /** Why nobody answered. */
  why: string;
  /** Why it was not kept when it was sent again, and by which field that was refused. */
  fault: string | null;
  refused: string | null;
}

const KEPT = "loomshuttle-unsent";

/** It outlives a page that is loaded anew; a tab that is closed is asked before. */
let unsent: Unsent[] = JSON.parse(sessionStorage.getItem(KEPT) ?? "[]") as Unsent[];
const watchers = new Set<() => void>();

function keep(next: Unsent[]) {
  unsent = next;
  sessionStorage.setItem(KEPT, JSON.stringify(unsent));
  for (const watcher of watchers) watcher();
}

window.addEventListener("beforeunload", (event) => {
  if (unsent.length > 0) event.preventDefault();
});

/** Nobody answered: what was sent may be kept or not. Neither the server's refusal, nor a fault of the request. */
export const unanswered = (error: Error): boolean =>
  error instanceof ApiError && (error.status === 0 || (error.status === 503 && error.field === "database"));

/** Why it waits, where the page does not say so already: of a server that is away a bar of its own tells, as long as it is. */
export const reason = (error: Error): string => (error instanceof ApiError && error.status === 0 ? "" : error.message);

export function keepUnsent(what: Omit<Unsent, "id" | "fault" | "refused">) {
  keep([...unsent, { ...what, id: crypto.randomUUID(), fault: null, refused: null }]);
}

export const forgetUnsent = (ids: string[]) => keep(unsent.filter(({ id }) => !ids.includes(id)));

/** Whether an edit of this show waits for an answer; one that was refused keeps no other waiting. */
export const anyWaits = (show: number): boolean => unsent.some((one) => one.show === show && one.refused === null);

/** What waits to be sent, oldest first. */
export const useUnsent = (): Unsent[] =>
  useSyncExternalStore(
    (watcher) => {
      watchers.add(watcher);
      return () => watchers.delete(watcher);
    },
    () => unsent,
  );

/** Sends what waits, in the order in which it was typed, until nobody answers again. */
export async function sendUnsent(client: QueryClient) {
  for (const one of unsent) {
    const left = await send(client, one);
    if (left === null) forgetUnsent([one.id]);
    else keep(unsent.map((other) => (other.id === one.id ? left : other)));
    if (left && left.refused === null) return;
    await client.invalidateQueries();
  }
}

/** What is left of it: null where it is kept. */
async function send(client: QueryClient, one: Unsent): Promise<Unsent | null> {
  try {
    await api.post(one.path, { ...one.body, ...allTheSame(client, one) });
    return null;
  } catch (error) {
    if (!(error instanceof ApiError) || unanswered(error)) return { ...one, fault: null, refused: null };
    return { ...one, fault: error.message, refused: error.field };
  }
}

/** Who sends again what was refused for that has read why, and means it. */
function allTheSame(client: QueryClient, { show, refused }: Unsent): object {
  if (refused === "during_take" || refused === "on_recorder") return { [refused]: true };
  const version = client.getQueryData<Show>(["show", show])?.version;
  return (refused === "meanwhile" || refused === "version") && version ? { version } : {};
}
