import { ApiError, api } from "./client";

/** As much as goes in one request; the server takes up to 16 MiB. */
const PART_BYTES = 8 * 1024 * 1024;
/** A server that is away is asked again for so long: a take that runs, or a page left open, is worth the wait. */
const TRIES = 60;
const WAIT_MS = 1000;

interface Landed {
  landed: number;
}

/**
 * Brings files one after the other in parts. A part that got lost is sent again, from where the server says that the
 * last one ended.
 */
export async function bring(
  files: File[],
  address: (number: number) => string,
  signal: AbortSignal,
  onProgress: (percent: number) => void,
) {
  const total = files.reduce((sum, { size }) => sum + size, 0) || 1;
  let before = 0;
  for (const [at, file] of files.entries()) {
    let from = 0;
    do {
      const landed = await part(address(at + 1), file, from, signal);
      if (landed === from && file.size > 0) throw new Error(`${file.name}: nothing of it lands.`);
      from = landed;
      onProgress((100 * (before + from)) / total);
    } while (from < file.size);
    before += file.size;
  }
}

async function part(address: string, file: File, from: number, signal: AbortSignal): Promise<number> {
  for (let tries = 0; ; tries++) {
    signal.throwIfAborted();
    try {
      const bytes = file.slice(from, from + PART_BYTES);
      return (await api.putBytes<Landed>(`${address}?from=${from}`, bytes)).landed;
    } catch (error) {
      if (tries >= TRIES || !(error instanceof ApiError)) throw error;
      // It landed, and only the answer was lost.
      const where = error.field === "from" ? /; (\d+), where the last part ended/.exec(error.message)?.[1] : undefined;
      if (where !== undefined) return Number(where);
      if (error.status !== 0 && error.status !== 503) throw error;
      await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
    }
  }
}
