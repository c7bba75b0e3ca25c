import { type Levels, together } from "../model/levels";
import { heardLevels, heardState } from "../model/liveState";
import { Line, type LineNews } from "./line";
import type { components } from "./schema";

/** One line of events for all tabs of a browser: it may have six to a server, and a tab needs some for itself. */
interface Tab {
  port: MessagePort;
  levels: Levels | null;
  heardMs: number;
  /** It was taken for gone, and has missed what was said since. */
  missed: boolean;
}

/** What a tab says: that it is there, with the levels that it wants; or that it is left. */
export type TabSays = { levels: Levels | null } | { bye: true };

/** A tab says now and then that it is there, a hidden one once a minute; one that says nothing for so long is gone. */
const GONE_MS = 180_000;

type Told = components["schemas"]["Told"];

const tabs = new Set<Tab>();
let stands = false;
/** What was told so far: the line tells only what is another since, and a tab that comes later needs all of it. */
let state: Told["state"] | null = null;
let levels: Told["levels"] | null = null;

function tell(news: LineNews) {
  if (news.kind !== "event") stands = news.kind === "open";
  else if (news.name === "state" || news.name === "change") state = heardState(state, news.name, JSON.parse(news.data));
  else if (news.name === "levels") levels = heardLevels(levels, JSON.parse(news.data));
  for (const tab of tabs) tab.port.postMessage(news);
}
const line = new Line(tell);

function settle() {
  for (const tab of tabs)
    if (Date.now() - tab.heardMs > GONE_MS) {
      tab.missed = true;
      tabs.delete(tab);
    }
  if (tabs.size === 0) {
    stands = false;
    state = null;
    levels = null;
    line.close();
  } else line.want(together([...tabs].flatMap(({ levels }) => levels ?? [])));
}
setInterval(settle, GONE_MS / 6);

(self as unknown as { onconnect: (event: MessageEvent) => void }).onconnect = (event) => {
  const port = event.ports[0];
  if (!port) return;
  const tab: Tab = { port, levels: null, heardMs: Date.now(), missed: false };
  port.onmessage = ({ data }: MessageEvent<TabSays>) => {
    tab.heardMs = Date.now();
    if ("bye" in data) tabs.delete(tab);
    else {
      if (!tabs.has(tab)) {
        tabs.add(tab);
        if (tab.missed) port.postMessage({ kind: "broken" } satisfies LineNews);
        tab.missed = false;
        // The line stands already: this tab begins to hear now.
        if (stands) {
          port.postMessage({ kind: "open" } satisfies LineNews);
          if (state) port.postMessage({ kind: "event", name: "state", data: JSON.stringify(state) } satisfies LineNews);
          if (levels) port.postMessage({ kind: "event", name: "levels", data: JSON.stringify(levels) } satisfies LineNews);
        }
      }
      tab.levels = data.levels;
    }
    settle();
  };
};
