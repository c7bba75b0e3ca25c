import { enc, places, useOfShow } from "./asked";
import type { FieldName, FieldTable, Loom, RateForecast, Rig, SendTable, Trace, Why } from "./client";

// Rig and patch: looms, fields, mixes, and what leads where.

export const useRig = () => useOfShow<Rig>(["show", "rig"], "rig");

export const useLoom = (name: string) => useOfShow<Loom>(["show", "loom", name], `looms/${enc(name)}`);

export const useFields = () => useOfShow<FieldName[]>(["show", "fields"], "fields");

/** One field of one device, "desk/card-send", slot by slot. */
export const useFieldTable = (field: string | null) =>
  useOfShow<FieldTable>(["show", "field", field], `fields/${places(field)}`, {
    enabled: field !== null,
    placeholderData: (before) => (before?.field === field ? before : undefined),
  });

export const useMixes = () => useOfShow<FieldName[]>(["show", "mixes"], "mixes");

/** What is sent to one mix, "desk/bus/1". */
export const useSendTable = (mix: string | null) =>
  useOfShow<SendTable>(["show", "sends", mix], `mixes/${places(mix)}`, {
    enabled: mix !== null,
    placeholderData: (before) => (before?.mix === mix ? before : undefined),
  });

export const useTrace = (endpoint: string | null) =>
  useOfShow<Trace>(["show", "trace", endpoint], `trace?endpoint=${enc(endpoint ?? "")}`, {
    enabled: endpoint !== null,
    placeholderData: (before) => before,
  });

/** "Why is nothing here?" */
export const useWhy = (endpoint: string | null) =>
  useOfShow<Why>(["show", "why", endpoint], `why?endpoint=${enc(endpoint ?? "")}`, { enabled: endpoint !== null });

/** What a cable would do before it is laid. */
export const useCableForecast = (ends: { a: string; b: string } | null) =>
  useOfShow<{ fits: boolean; sentence: string }>(["show", "cable", ends], `rig/cable?a=${enc(ends?.a ?? "")}&b=${enc(ends?.b ?? "")}`, {
    enabled: ends !== null,
  });

export const useRateForecast = (rateHz: number | null) =>
  useOfShow<RateForecast>(["show", "rate", rateHz], `rig/rate?rate_hz=${rateHz}`, { enabled: rateHz !== null });
