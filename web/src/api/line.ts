import { eventsQuery, type Levels } from "../model/levels";

/** What a line of events tells whoever listens: it stands, it broke, or an event with its data as it came. */
export type LineNews = { kind: "open" } | { kind: "broken" } | { kind: "event"; name: string; data: string };

/** Events that are passed on, by their names in the contract. */
export const EVENTS = [
  "state",
  "change",
  "levels",
  "show",
  "findings",
  "takes",
  "session",
  "shows",
  "on_air",
  "library",
  "tasks",
  "alarms",
  "linecheck",
  "soundcheck",
  "lineup",
  "desk",
  "missed",
] as const;

/** The server says every two seconds that it is there; a network that loses everything says nothing of that. */
const SILENT_MS = 6000;
const LOOK_MS = 1000;

/**
 * One line of events to the server, with the levels that are wanted. Wanting others is a new line; the old one is
 * closed when that stands, so that nothing is missed in between.
 */
export class Line {
  private source: EventSource | null = null;
  /** Lines of before, until one stands that takes their place. */
  private old: EventSource[] = [];
  private asked: string | null = null;
  private wanted: Levels | null = null;
  private heardMs = 0;

  constructor(private readonly tell: (news: LineNews) => void) {
    setInterval(() => this.look(), LOOK_MS);
  }

  /** Opens the line, or another one. */
  want(levels: Levels | null) {
    this.wanted = levels;
    const query = eventsQuery(levels);
    // One that the server refused is closed for good: it is asked for anew.
    if (this.asked === query && this.source && this.source.readyState !== EventSource.CLOSED) return;
    this.asked = query;
    if (this.source) this.old.push(this.source);
    const source = new EventSource(`/api/events${query}`);
    this.source = source;
    this.heardMs = performance.now();
    source.addEventListener("here", () => this.heard(source));
    // Not when its headers are here: then the server may not count it in yet, and what is read now could stay old.
    source.addEventListener("stands", () => {
      if (this.source !== source) return;
      this.heard(source);
      this.closeOld();
      this.tell({ kind: "open" });
    });
    source.onerror = () => {
      // Until the new line stands the old one may still be heard.
      if (this.source !== source) return;
      this.closeOld();
      this.tell({ kind: "broken" });
    };
    // Until the new line stands the old one is heard too; what both say is said twice, which hurts nobody.
    for (const name of EVENTS)
      source.addEventListener(name, (event) => {
        this.heard(source);
        this.tell({ kind: "event", name, data: event.data });
      });
  }

  private heard(source: EventSource) {
    if (this.source === source) this.heardMs = performance.now();
  }

  /** One that is silent for too long is given up, and another one opened. */
  private look() {
    if (!this.source || performance.now() - this.heardMs < SILENT_MS) return;
    this.tell({ kind: "broken" });
    this.close();
    this.want(this.wanted);
  }

  private closeOld() {
    for (const one of this.old) one.close();
    this.old = [];
  }

  close() {
    this.closeOld();
    this.source?.close();
    this.source = null;
    this.asked = null;
  }
}
