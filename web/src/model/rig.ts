import type { Cable, Device, Rig } from "../api/client";

/** Where gear stands on the Rig screen: columns in the order in which the signal travels. Pure. */
export interface Spot {
  x: number;
  y: number;
}

const COLUMN_WIDTH = 318;
const GAP = 22;
export const CARD_WIDTH = 196;
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

/** What stands right of a desk: what a cable joins with it, then who listens to it or to its boxes. */
function besides(rig: Rig, desk: Device, boxes: Device[]): Device[] {
  const around = [desk, ...boxes].map(({ id }) => id);
  const joined = rig.cables.flatMap((cable) => [end(cable.a), end(cable.b)]).filter((_, i, ends) => around.includes(ends[i ^ 1] ?? ""));
  const plugged = rig.plugs.filter((plug) => around.includes(plug.from)).map((plug) => plug.to);
  return rig.devices.filter(({ id, kind }) => kind !== "box" && kind !== "desk" && [...joined, ...plugged].includes(id));
}

const order = ["interface", "computer", "player", "listener"];
const inOrder = (devices: Device[]) => [...devices].sort((one, other) => order.indexOf(one.kind) - order.indexOf(other.kind));

/**
 * Each desk is a band of its own: left of it its boxes, a chain a column, right of it what is joined with it
 * and who listens. What is joined with nothing yet stands in the last band.
 */
export function layOutRig(rig: Rig): Map<string, Spot> {
  const desks = rig.devices.filter((device) => device.kind === "desk");
  const bands = desks.map((desk) => bandOf(rig, desk));
  const loose = rig.devices.filter((device) => !bands.flat(2).includes(device));
  bands.push([loose.filter(({ kind }) => kind === "box"), [], inOrder(loose.filter(({ kind }) => kind !== "box"))]);
  const widest = Math.max(...bands.map((band) => band.length));
  const tops = Array<number>(widest).fill(0);
  const spots = new Map<string, Spot>();
  for (const band of bands) {
    const shift = widest - band.length;
    band.forEach((column, place) => {
      for (const device of column.filter(({ id }) => !spots.has(id))) {
        const y = tops[place + shift] ?? 0;
        spots.set(device.id, { x: (place + shift) * COLUMN_WIDTH, y });
        tops[place + shift] = y + cardHeight(device) + GAP;
      }
    });
    // With one desk each column simply goes on; several keep apart.
    if (desks.length > 1) tops.fill(Math.max(...tops));
  }
  return spots;
}

/** The columns of one desk, from the left; the chain at its first port stands next to it. */
function bandOf(rig: Rig, desk: Device): Device[][] {
  const chains = desk.ports.map((port) => chainAt(rig, `${desk.id}/${port.name}`)).filter((chain) => chain.length > 0);
  return [...(chains.length > 0 ? chains.reverse() : [[]]), [desk], inOrder(besides(rig, desk, chains.flat()))];
}

/** Ports look towards what they are usually joined to. */
export const portSide = (device: Device, port: { standard: string }): "left" | "right" => {
  if (device.kind === "box") return "right";
  return device.kind === "desk" && !/AES50|MADI/.test(port.standard) ? "right" : "left";
};

export const nameOf = (rig: Rig, id: string) => rig.devices.find((device) => device.id === id)?.name ?? id;
export const portName = (rig: Rig, name: string) => `${nameOf(rig, end(name))}, ${name.split("/")[1]}`;

/** "12 + 2 of 48": lanes in use each way, lanes there. */
export const lanesText = (cable: Cable) => `${cable.a_to_b} + ${cable.b_to_a} of ${cable.lanes}`;
