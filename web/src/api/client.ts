import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Show = Schemas["Show"];
export type Row = Schemas["Row"];
export type Finding = Schemas["Finding"];
export type Mend = Schemas["Mend"];
export type Edit = Schemas["Edit"];
/** The edit of one kind. */
export type EditOf<Kind extends Edit["kind"]> = Extract<Edit, { kind: Kind }>;
type Body<Path extends keyof paths> = paths[Path] extends { post: { requestBody: { content: { "application/json": infer Given } } } }
  ? Given
  : never;
/** What changes a show, by what it is called below the show's address; it names the version that it is made for. */
export type ShowPath = {
  [Path in keyof paths]: Path extends `/api/shows/{show}/${infer Name}` ? (Body<Path> extends { version: number } ? Name : never) : never;
}[keyof paths];
type Whole<Name extends ShowPath> = `/api/shows/{show}/${Name}` extends infer Path extends keyof paths ? Path : never;
/** What such a change says beside that: every edit by its own fields. */
export type ShowBody<Name extends ShowPath> = DistributiveOmit<Body<Whole<Name>>, "version" | "loom">;
type DistributiveOmit<Given, Keys extends PropertyKey> = Given extends unknown ? Omit<Given, Keys> : never;
export type Track = Schemas["Track"];
export type Song = Schemas["Song"];
export type Listed = Schemas["Listed"];
export type StageOsc = Schemas["StageOsc"];
export type Press = Schemas["Press"];
export type SongList = Schemas["SongList"];
export type SongPicture = Schemas["SongPicture"];
export type OwnSound = Schemas["OwnSound"];
export type WholeSong = Schemas["WholeSong"];
export type SongPlan = Schemas["SongPlan"];
export type SongLevel = Schemas["SongLevel"];
export type Lineup = Schemas["Lineup"];
export type LineupTick = Schemas["LineupTick"];
export type Bounced = Schemas["Bounced"];
export type RoleTable = Schemas["RoleTable"];
export type LibraryRole = Schemas["LibraryRole"];
export type Loom = Schemas["Loom"];
export type Knot = Schemas["Knot"];
export type Strand = Schemas["Strand"];
export type Trace = Schemas["Trace"];
export type Why = Schemas["Why"];
export type Preview = Schemas["Preview"];
export type Change = Schemas["Change"];
export type Scene = Schemas["Scene"];
export type HistoryEntry = Schemas["HistoryEntry"];
export type RowsPlan = Schemas["RowsPlan"];
export type Paper = Schemas["Paper"];
export type ShowList = Schemas["ShowList"];
export type ListedShow = Schemas["ListedShow"];
export type ShowPlace = Schemas["ShowPlace"];
export type OnAir = Schemas["OnAir"];
export type DeskAt = Schemas["DeskAt"];
export type FoundDesk = Schemas["FoundDesk"];
export type AtDoor = Schemas["AtDoor"];
export type May = Schemas["May"];
export type WayIn = Schemas["WayIn"];
export type LetIn = Schemas["LetIn"];
export type ShownCode = Schemas["ShownCode"];
export type Guide = Schemas["Guide"];
export type Template = Schemas["Template"];
export type FieldName = Schemas["FieldName"];
export type FieldTable = Schemas["FieldTable"];
export type SendTable = Schemas["SendTable"];
export type RateForecast = Schemas["RateForecast"];
export type Device = Schemas["Device"];
export type Cable = Schemas["Cable"];
export type Edited = Schemas["Edited"];
export type SwingPlan = Schemas["SwingPlan"];
export type Take = Schemas["Take"];
export type TakeFile = Schemas["TakeFile"];
export type TakeOverview = Schemas["TakeOverview"];
export type Verified = Schemas["Verified"];
export type Alarm = Schemas["Alarm"];
export type Session = Schemas["Session"];
export type CopyPlace = Schemas["CopyPlace"];
export type AudioDevice = Schemas["AudioDevice"];
export interface DeviceTerms {
  says: string[];
  warns: string[];
}
export type Disk = Schemas["Disk"];
export type DeskState = Schemas["DeskState"];
export type Rig = Schemas["Rig"];
export type ImportPlan = Schemas["ImportPlan"];
export type Place = Schemas["Place"];
export type Task = Schemas["Task"];
export type Folders = Schemas["Folders"];
export type Linecheck = Schemas["Linecheck"];
export type LinecheckRow = Schemas["LinecheckRow"];
export type LinecheckWish = Schemas["LinecheckWish"];
export type DeskControl = Schemas["DeskControl"];
export type ControlWish = Schemas["ControlWish"];
export type Soundcheck = Schemas["Soundcheck"];
export type Proof = Schemas["Proof"];
export type SoundcheckWish = Schemas["SoundcheckWish"];
export type PingWish = Schemas["PingWish"];
export type Simulation = Schemas["Simulation"];
export type SimulationWish = Schemas["SimulationWish"];

/** An edit that does what was refused another way. */
export interface Way {
  label: string;
  edit: Edit;
}

/** Every bad answer: which field, what is allowed, a sentence for people, and the way out where there is one. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly field: string,
    readonly way?: Way,
  ) {
    super(message);
  }
}

const CLIENT_KEY = "loomshuttle.client";
const WHO_KEY = "loomshuttle.who";

/** This browser, so that its undo takes back its own edits only. */
function clientId(): string {
  const kept = localStorage.getItem(CLIENT_KEY);
  if (kept) return kept;
  const fresh = crypto.randomUUID();
  localStorage.setItem(CLIENT_KEY, fresh);
  return fresh;
}

/** What the history calls whoever works here. */
export const who = {
  get: (): string => localStorage.getItem(WHO_KEY) ?? "",
  set: (name: string) => localStorage.setItem(WHO_KEY, name),
};

async function call(method: string, path: string, body?: BodyInit, type = "application/json"): Promise<unknown> {
  const headers: Record<string, string> = { "x-client": clientId(), "x-who": encodeURIComponent(who.get()) };
  if (body !== undefined) headers["content-type"] = type;
  const answer = await fetch(path, { method, headers, ...(body === undefined ? {} : { body }) }).catch(() => {
    throw new ApiError("The server does not answer. Recording and playing go on without it.", 0, "server");
  });
  const data: unknown = await answer.json().catch(() => null);
  if (answer.ok) return data;
  const fault = (data as { error?: { message?: string; field?: string; way?: Way } } | null)?.error;
  throw new ApiError(fault?.message ?? `The server answered ${answer.status}.`, answer.status, fault?.field ?? "", fault?.way);
}

/** The only place that calls fetch. The contract is api/openapi.yaml. */
export const api = {
  get: <T>(path: string) => call("GET", path) as Promise<T>,
  post: <T>(path: string, body: object) => call("POST", path, JSON.stringify(body)) as Promise<T>,
  send: <T>(path: string, body: BodyInit, type: string) => call("POST", path, body, type) as Promise<T>,
  put: <T>(path: string, body: object) => call("PUT", path, JSON.stringify(body)) as Promise<T>,
  putBytes: <T>(path: string, body: BodyInit) => call("PUT", path, body, "application/octet-stream") as Promise<T>,
  delete: <T>(path: string) => call("DELETE", path) as Promise<T>,
};
