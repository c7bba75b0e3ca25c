import type { AudioDevice } from "../api/client";
import type { components } from "../api/schema";

type OpenDevice = components["schemas"]["EngineState"]["device"];

/** Blocks that the usual interfaces take. */
export const BLOCKS_FRAMES = [64, 128, 256, 512, 1024, 2048];
/** No interface has more; a plug-in device names any number. */
const LANES_MAX = 128;
const PLUGIN_LANES = 32;
/** Exact ones first: what is narrower drops bits of the converter. */
const FORMATS = ["S32_LE", "S24_3LE", "S16_LE"] as const;

export interface DeviceWish {
  kind: "standin" | "alsa";
  id: string;
  rate_hz: number;
  block_frames: number;
  lanes_in?: number;
  lanes_out?: number;
  format?: (typeof FORMATS)[number];
}

const lanes = (count: number | null | undefined): number => ((count ?? 0) > LANES_MAX ? PLUGIN_LANES : (count ?? 0));

export const lanesOf = (device: AudioDevice): number => lanes(device.lanes_in);

/** The device with all its lanes, at the rate and block that are open where it can do them. */
export function wishFor(device: AudioDevice, open: { rate_hz: number; block_frames: number } | null): DeviceWish {
  const rates = device.rates_hz ?? [];
  const rate = open && (rates.length === 0 || rates.includes(open.rate_hz)) ? open.rate_hz : (rates[0] ?? 48_000);
  const wish = { kind: device.kind as DeviceWish["kind"], id: device.id, rate_hz: rate, block_frames: open?.block_frames ?? 1024 };
  if (device.kind === "standin") return wish;
  const format = FORMATS.find((one) => device.formats?.includes(one));
  return {
    ...wish,
    lanes_in: Math.max(lanesOf(device), 1),
    lanes_out: Math.max(lanes(device.lanes_out), 1),
    ...(format ? { format } : {}),
  };
}

export const kilohertz = (rate: number): string => `${rate / 1000} kHz`;

/** What is open, or why nothing is. */
export function stateWords({ name, state, fault, rate_hz, lanes, lanes_out, block_frames }: OpenDevice): string {
  if (state !== "running") return `${name}: ${state}${fault ? `, ${fault}` : ""}`;
  return `Open: ${name}, ${kilohertz(rate_hz ?? 0)}, ${lanes} lanes in, ${lanes_out} out, blocks of ${block_frames}`;
}

export const lossCount = (device: OpenDevice): number => device.lost_in_frames + device.lost_out_frames + device.late_blocks;

/** Lost since it was opened, by place. */
export const lossWords = ({ lost_in_frames, lost_out_frames, late_blocks }: OpenDevice): string =>
  `Lost since it was opened: ${lost_in_frames} frames coming in, ${lost_out_frames} going out; ${late_blocks} blocks played late.`;
