import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { wordsOfEdit } from "../model/typed";
import { useNotice } from "../ui/notice";
import { enc } from "./asked";
import { ApiError, api, type Edited, type Show, type ShowBody, type ShowPath } from "./client";
import { neededWord, secondWord } from "./command";
import { ofShow, useShowId } from "./openShow";
import { anyWaits, keepUnsent, reason, unanswered } from "./unsent";

// Edits of the open show, one after the other, and their answers laid into the cache.

/** Edits of this page go one after the other. */
export const EDITS = "show";

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

/** Reads show and loom anew in one, so that the page never shows two versions side by side. */
export async function readAnew(client: QueryClient, id: number) {
  const loom = loomOnScreen(client, id);
  const answer = await api.get<Edited>(ofShow(id, `page${loom ? `?loom=${enc(loom)}` : ""}`));
  const known = client.getQueryData<Show>(["show", id])?.version ?? 0;
  if (answer.version >= known) await takeOver(client, id, loom, answer);
}

async function change<Path extends ShowPath>(client: QueryClient, id: number, path: Path, body: Versioned<Path>) {
  const loom = loomOnScreen(client, id);
  const version = body.version ?? client.getQueryData<Show>(["show", id])?.version ?? 1;
  await takeOver(client, id, loom, await api.post<Edited>(ofShow(id, path), { ...(loom ? { loom } : {}), ...body, version }));
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

/** The loom of a show that is on the screen, so that an edit can be answered with it. */
function loomOnScreen(client: QueryClient, id: number): string | undefined {
  const shown = client.getQueryCache().findAll({ queryKey: ["show", id, "loom"], type: "active" })[0];
  return shown ? String(shown.queryKey[3]) : undefined;
}

/** Keeps an edit that nobody has answered. */
function waits(id: number, body: object, why: string) {
  const { label, edit } = body as { label?: string; edit: { kind: string } };
  keepUnsent({ path: ofShow(id, "edits"), body, show: id, label: label ?? "An edit", typed: wordsOfEdit(edit), why });
}

/** What changes the show, and the version that was looked at when it was begun. */
type Versioned<Path extends ShowPath> = ShowBody<Path> & { version?: number };
