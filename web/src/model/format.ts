/** "4:05", with hours only where there are any. */
export const minutes = (seconds: number): string => clock(seconds).replace(/^00:0?/, "");

/** 3725 s -> "01:02:05". */
export function clock(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  return [whole / 3600, (whole / 60) % 60, whole % 60].map((part) => String(Math.floor(part)).padStart(2, "0")).join(":");
}

/** How long a disk lasts, as one reads it from afar: "4 h 31 min". */
export function span(seconds: number | null): string {
  if (seconds === null) return "nothing armed";
  const hours = Math.floor(seconds / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  return hours > 99 ? `${hours} h` : hours > 0 ? `${hours} h ${minutes} min` : `${minutes} min`;
}

/** "40 s", "3 min", "1 h 20 min". */
export function duration(seconds: number): string {
  return seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : span(seconds);
}

/** 12345678 -> "12 MB", in thousands. */
export function weight(bytes: number): string {
  if (bytes < 1e6) return bytes === 0 ? "0 MB" : "under 1 MB";
  return bytes < 1e9 ? `${Math.round(bytes / 1e6)} MB` : `${(bytes / 1e9).toFixed(1)} GB`;
}

/** Any name in small letters, digits and dashes, as roles are written and addresses read. */
export const dashed = (name: string): string =>
  name
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);

/** What stands before a show's steps in an address: its id, and its name for people. */
export function slug(id: number, name: string): string {
  const plain = dashed(name);
  return plain ? `${id}-${plain}` : String(id);
}

/** dBFS with one decimal, a dash where there is nothing. */
export const decibels = (dbfs: number | undefined): string =>
  dbfs === undefined || dbfs <= -120 ? "—" : dbfs.toFixed(1).replace("-", "−");

/** "desk/channel/9" -> 9. */
export const numberOf = (endpoint: string): number => Number(endpoint.split("/")[2]);

/** How long ago something was, in the words of a list: "now", "12 s ago", "3 h ago". */
export function ago(at: string, nowMs: number): string {
  const seconds = Math.max(0, Math.round((nowMs - Date.parse(at)) / 1000));
  if (seconds < 10) return "now";
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ago`;
  return seconds < 48 * 3600 ? `${Math.floor(seconds / 3600)} h ago` : `${Math.floor(seconds / 86400)} days ago`;
}

/** Quiet, good, hot, clipped: the four words of the ribbon and the meters. */
export type Heat = "quiet" | "good" | "hot" | "clipped";
/** Normal playing sits near -18 dBFS rms, peaks some 12 dB above it (common practice). */
export function heat(peakDbfs: number): Heat {
  if (peakDbfs >= -0.1) return "clipped";
  if (peakDbfs > -6) return "hot";
  return peakDbfs > -45 ? "good" : "quiet";
}

/** Where a level stands on a meter from -60 dBFS to full scale, 0 to 1. */
export const meterShare = (dbfs: number): number => Math.min(1, Math.max(0, (dbfs + 60) / 60));
