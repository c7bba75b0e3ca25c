import type { Cable, Device, Rig } from "../api/client";

/** Where gear stands on the Rig screen: columns in the order in which the signal travels. Pure. */
export interface Spot {
  x: number;
  y: number;
  column: number;
  /** Stands above the box that it is chained to: its ports are listed the other way round. */
  upward?: boolean;
}

/** From one column to the next: as much as there is room for, within what a cable needs and an eye follows. */
const COLUMN_WIDTH = { least: 262, most: 330 };
const COLUMNS = 3;
/** How far columns stand apart in a frame of this width, in pixels. */
export const columnWidth = (frameWidth: number): number =>
  Math.max(COLUMN_WIDTH.least, Math.min(COLUMN_WIDTH.most, (frameWidth - CARD_WIDTH - 2 * GAP) / (COLUMNS - 1)));
const GAP = 22;
export const CARD_WIDTH = 196;
/** How far who listens at a box stands in under it. */
export const INDENT = 24;
export const PORT_HEIGHT = 24;
const HEAD_HEIGHT = 62;

export const cardHeight = (device: Device) => HEAD_HEIGHT + device.ports.length * PORT_HEIGHT;

const end = (name: string) => name.split("/")[0] ?? "";

/** The boxes on a port, from the one that is plugged in there outward. */
function chainAt(rig: Rig, port: string): Device[] {
  const chain: Device[] = [];
  let at = port;
  for (;;) {
    const cable = rig.cables.find((one) => one.a === at || one.b === at);
    const next = cable && (cable.a === at ? cable.b : cable.a);
    const box = rig.devices.find((device) => device.id === end(next ?? ""));
    if (box?.kind !== "box" || chain.includes(box)) return chain;
    chain.push(box);
    at = `${box.id}/chain`;
  }
}

const order = ["interface", "computer", "player", "listener"];
const inOrder = (devices: Device[]) => [...devices].sort((one, other) => order.indexOf(one.kind) - order.indexOf(other.kind));

/** Who listens at that box and nowhere else. */
const listenersAt = (rig: Rig, box: Device) =>
  rig.devices.filter(({ id }) => {
    const from = rig.plugs.filter((plug) => plug.to === id).map((plug) => plug.from);
    return from.length > 0 && from.every((one) => one === box.id);
  });

/** What stands right of a desk: what a cable joins with it or its boxes, and who listens there. */
function besides(rig: Rig, desk: Device, boxes: Device[]): Device[] {
  const around = [desk, ...boxes].map(({ id }) => id);
  const joined = rig.cables.flatMap((cable) => [end(cable.a), end(cable.b)]).filter((_, i, ends) => around.includes(ends[i ^ 1] ?? ""));
  const plugged = rig.plugs.filter((plug) => around.includes(plug.from)).map((plug) => plug.to);
  return rig.devices.filter(({ id, kind }) => kind !== "box" && kind !== "desk" && [...joined, ...plugged].includes(id));
}

/**
 * Each desk is a band of its own, stage left and house right: its boxes, each with who listens at it underneath; the
 * desk; what is joined with it and who listens there. What is joined with nothing yet stands in the last band.
 */
export function layOutRig(rig: Rig, apart: number = COLUMN_WIDTH.most): Map<string, Spot> {
  const desks = rig.devices.filter((device) => device.kind === "desk");
  const spots = new Map<string, Spot>();
  const tops = [0, 0, 0];
  const stand = (device: Device, column: number, more: { indent?: number; upward?: boolean } = {}) => {
    if (spots.has(device.id)) return;
    const y = tops[column] ?? 0;
    spots.set(device.id, { column, x: column * apart + (more.indent ?? 0), y, upward: more.upward });
    tops[column] = y + cardHeight(device) + GAP;
  };
  for (const desk of desks) {
    const [first = [], ...others] = desk.ports.map((port) => chainAt(rig, `${desk.id}/${port.name}`)).filter((chain) => chain.length > 0);
    // One chain goes downward from its head; of several the first goes upward, so that heads stand side by side.
    const upward = others.length > 0;
    for (const box of upward ? first.toReversed() : first) standBox(box, upward);
    const head = upward && spots.get(first[0]?.id ?? "");
    if (head) tops[1] = Math.max(tops[1] ?? 0, head.y);
    stand(desk, 1);
    for (const box of others.flat()) standBox(box, false);
    for (const device of inOrder(besides(rig, desk, [first, ...others].flat()))) stand(device, 2);
    // With one desk each column simply goes on; several keep apart.
    if (desks.length > 1) tops.fill(Math.max(...tops));
  }
  for (const device of inOrder(rig.devices)) stand(device, device.kind === "box" ? 0 : 2);
  return spots;

  function standBox(box: Device, upward: boolean) {
    stand(box, 0, { upward });
    for (const listener of listenersAt(rig, box)) stand(listener, 0, { indent: INDENT });
  }
}

/** Ports look towards what they are usually joined to. */
export const portSide = (device: Device, port: { standard: string }): "left" | "right" => {
  if (device.kind === "box") return "right";
  return device.kind === "desk" && !/AES50|MADI/.test(port.standard) ? "right" : "left";
};

export const nameOf = (rig: Rig, id: string) => rig.devices.find((device) => device.id === id)?.name ?? id;
export const portName = (rig: Rig, name: string) => {
  const device = rig.devices.find(({ id }) => id === end(name));
  return `${device?.name ?? end(name)}, ${device?.ports.find((port) => `${device.id}/${port.name}` === name)?.label ?? ""}`;
};

/** The cable at a port, if there is one. */
export const cableAt = (rig: Rig, device: Device, port: string): Cable | undefined =>
  rig.cables.find(({ a, b }) => a === `${device.id}/${port}` || b === `${device.id}/${port}`);

/** "12 + 2 of 48": lanes in use each way, lanes there. */
export const lanesText = (cable: Cable) => `${cable.a_to_b} + ${cable.b_to_a} of ${cable.lanes}`;

/** At what rate a piece of gear runs and where its clock comes from; of who listens, that they do. */
export function clockWords(device: Device): string {
  if (device.rate_hz === null) return device.audience ? `heard by the ${device.audience}` : "";
  const rate = `${device.rate_hz / 1000} kHz`;
  if (device.clock === "leader") return `${rate}, leads the clock`;
  return device.clock_arrives
    ? `${rate}, follows through ${device.ports.find(({ name }) => name === device.clock)?.label ?? ""}`
    : `${rate}, no clock arrives`;
}
