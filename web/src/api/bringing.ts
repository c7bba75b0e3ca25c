import { useEffect, useRef, useState } from "react";
import { api } from "./client";
import { bring } from "./upload";

const LOOK_MS = 500;

/** What the server knows of an import, of a take's files as of a song's. */
interface Landing {
  id: number;
  files: { holds: unknown; fault?: string | null }[];
}

/** Waits until every file has been looked at; those of a folder are by the worker. */
async function looked<Plan extends Landing>(address: string, signal: AbortSignal): Promise<Plan> {
  for (;;) {
    const plan = await api.get<Plan>(address);
    if (plan.files.every((file) => file.holds || file.fault)) return plan;
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
    signal.throwIfAborted();
  }
}

/**
 * Brings files of this browser, or a folder of the recording computer, to an import. Whoever closes the page that does
 * so, or begins anew, wants nothing of it kept: what runs is stopped and what landed is taken away.
 *
 * @param imports where the API has imports of this kind
 * @param onPlan is given what was found, once all files are there and have been looked at
 */
export function useBringing<Plan extends Landing>(imports: string, onPlan: (plan: Plan) => void) {
  const [plan, setPlan] = useState<Plan | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const open = useRef<{ id: number; stop: AbortController } | null>(null);

  const leave = () => {
    const left = open.current;
    open.current = null;
    left?.stop.abort();
    if (left) api.delete(`${imports}/${left.id}`).catch(() => undefined);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when the page goes
  useEffect(() => leave, []);

  const say = (error: unknown) => setFault(error instanceof Error ? error.message : String(error));

  async function begin(body: object, then: (id: number, signal: AbortSignal) => Promise<void>) {
    leave();
    setFault(null);
    setPlan(null);
    setProgress(0);
    const stop = new AbortController();
    try {
      const { id } = await api.post<{ id: number }>(imports, body);
      open.current = { id, stop };
      await then(id, stop.signal);
      const found = await looked<Plan>(`${imports}/${id}`, stop.signal);
      setPlan(found);
      onPlan(found);
    } catch (error) {
      if (!stop.signal.aborted) say(error);
    }
    setProgress(null);
  }
  return {
    plan,
    fault,
    setFault,
    progress,
    leave,
    /** Looks again, at another part of what came. */
    lookAgain: async (query: string) => {
      try {
        const found = await api.get<Plan>(`${imports}/${open.current?.id}?${query}`);
        setPlan(found);
        onPlan(found);
      } catch (error) {
        say(error);
      }
    },
    bringFiles: (files: File[]) =>
      files.length > 0 &&
      begin({ files: files.map(({ name, size }) => ({ name, bytes: size })) }, (id, signal) =>
        bring(files, (number) => `${imports}/${id}/files/${number}`, signal, setProgress),
      ),
    bringFolder: (folder: string) => begin({ folder }, async () => undefined),
    /** Has the worker make of it what `body` says; from then on it is no longer ours to take away. */
    accept: async (body: object): Promise<boolean> => {
      try {
        await api.post(`${imports}/${plan?.id}/accept`, body);
        open.current = null;
        return true;
      } catch (error) {
        say(error);
        return false;
      }
    },
  };
}
