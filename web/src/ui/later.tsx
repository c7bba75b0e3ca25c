import { type ComponentType, lazy } from "react";
import { isReplaced } from "../api/page";

type Load<Props> = () => Promise<ComponentType<Props>>;

/** What is fetched ahead once the page stands, so that a step is there when it is opened, also when the server is away then. */
const ahead: { load: () => Promise<unknown>; wide: boolean }[] = [];
const AGAIN_MS = 1000;

/**
 * A part of the page that is fetched when it is needed. Where it cannot be, it is tried again until it can: meanwhile
 * the page says that the server is away. Where the server has been given a newer page, that one is opened. `wide` parts
 * are of no use to a phone, and not fetched ahead there.
 */
export function later<Props>(load: Load<Props>, { wide = false } = {}) {
  ahead.push({ load, wide });
  return lazy(async () => ({ default: await untilFetched(load) }));
}

async function untilFetched<Props>(load: Load<Props>): Promise<ComponentType<Props>> {
  for (;;) {
    try {
      return await load();
    } catch {
      if (await isReplaced()) location.reload();
      await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }
}

/** One after another, when the browser has nothing else to do. */
export function fetchAhead(wide: boolean) {
  const [next, ...rest] = ahead.splice(0).filter((part) => wide || !part.wide);
  if (!next) return;
  ahead.push(...rest);
  const idle = window.requestIdleCallback ?? ((then: () => void) => setTimeout(then, 200));
  idle(() =>
    next
      .load()
      .catch(() => undefined)
      .then(() => fetchAhead(wide)),
  );
}
