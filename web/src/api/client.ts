import type { components } from "./schema";

type Schemas = components["schemas"];
export type Show = Schemas["Show"];
export type Finding = Schemas["Finding"];
export type Track = Schemas["Track"];
export type Song = Schemas["Song"];
export type Loom = Schemas["Loom"];
export type Knot = Schemas["Knot"];
export type Trace = Schemas["Trace"];
export type SwingPlan = Schemas["SwingPlan"];
export type Take = Schemas["Take"];
export type Disk = Schemas["Disk"];
export type DeskState = Schemas["DeskState"];
export type Rig = Schemas["Rig"];
export type ImportPlan = Schemas["ImportPlan"];
export type Place = Schemas["Place"];

/** Every bad answer: which field, what is allowed, and a sentence for people. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly field: string,
  ) {
    super(message);
  }
}

async function call(method: string, path: string, body?: BodyInit, type = "application/json"): Promise<unknown> {
  const headers: Record<string, string> = body === undefined ? {} : { "content-type": type };
  const answer = await fetch(path, { method, headers, ...(body === undefined ? {} : { body }) }).catch(() => {
    throw new ApiError("The server does not answer. Recording and playing go on without it.", 0, "server");
  });
  const data: unknown = await answer.json().catch(() => null);
  if (answer.ok) return data;
  const fault = (data as { error?: { message?: string; field?: string } } | null)?.error;
  throw new ApiError(fault?.message ?? `The server answered ${answer.status}.`, answer.status, fault?.field ?? "");
}

/** The only place that calls fetch. The contract is api/openapi.yaml. */
export const api = {
  get: <T>(path: string) => call("GET", path) as Promise<T>,
  post: <T>(path: string, body: object) => call("POST", path, JSON.stringify(body)) as Promise<T>,
  put: <T>(path: string, body: BodyInit, type: string) => call("PUT", path, body, type) as Promise<T>,
};
