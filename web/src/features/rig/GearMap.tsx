import { Box, useColorScheme, useTheme } from "@mui/material";
import {
  type Connection,
  ConnectionMode,
  Controls,
  type Edge,
  Handle,
  MarkerType,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
  ReactFlowProvider,
  useNodesInitialized,
  useReactFlow,
} from "@xyflow/react";
import { type KeyboardEvent, type RefObject, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import "@xyflow/react/dist/style.css";
import type { Device, Rig } from "../../api/client";
import {
  CARD_WIDTH,
  cableAt,
  cardHeight,
  clockWords,
  columnWidth,
  INDENT,
  lanesText,
  layOutRig,
  nameOf,
  PORT_HEIGHT,
  portName,
  portSide,
  type Spot,
} from "../../model/rig";

type GearNode = Node<{ device: Device; leads: boolean; lit: boolean; chosen: boolean; cables: Record<string, string> }, "gear">;

interface Props {
  rig: Rig;
  lit: string[];
  chosen: string | null;
  onChoose: (id: string | null) => void;
  onAim: (ends: { a: string; b: string } | null) => void;
  onLay: (a: string, b: string) => void;
}

/** Cards joined by cables, laid out by the program; the clock's way is drawn over them. */
export function GearMap(props: Props) {
  return (
    <ReactFlowProvider>
      <Flow {...props} />
    </ReactFlowProvider>
  );
}

const kinds = { gear: GearCard };

/** What a screen reader is told of the map, in words of our own. */
const said = {
  "node.a11yDescription.default": "Enter opens its settings.",
  "node.a11yDescription.keyboardDisabled": "Enter opens its settings.",
  "edge.a11yDescription.default": "Enter opens its settings.",
  "controls.ariaLabel": "Size of the map",
  "controls.zoomIn.ariaLabel": "Larger",
  "controls.zoomOut.ariaLabel": "Smaller",
  "controls.fitView.ariaLabel": "All of it",
  "handle.ariaLabel": "Port",
};

function Flow({ rig, lit, chosen, onChoose, onAim, onLay }: Props) {
  const { mode } = useColorScheme();
  const frame = useRef<HTMLDivElement>(null);
  const width = useFrameWidth(frame);
  const apart = columnWidth(width);
  const nodes = useMemo(() => nodesOf(rig, lit, chosen, apart), [rig, lit, chosen, apart]);
  const edges = useEdges(rig, chosen);
  useRefit(rig, width);
  const aimed = useRef("");
  function aim(connection: { sourceHandle?: string | null; targetHandle?: string | null }) {
    const { sourceHandle: a, targetHandle: b } = connection;
    const key = `${a}~${b}`;
    if (!a || !b || a === b || key === aimed.current) return true;
    aimed.current = key;
    onAim({ a, b });
    return true;
  }
  /** Cards and cables that are reached by Tab are opened as by a click. */
  function open(event: KeyboardEvent) {
    const reached = (event.target as Element).closest("[data-id].react-flow__node, [data-id].react-flow__edge");
    const id = reached?.getAttribute("data-id");
    if (!id || event.target !== reached || (event.key !== "Enter" && event.key !== " ")) return;
    event.preventDefault();
    onChoose(id);
  }
  function lay({ sourceHandle, targetHandle }: Connection) {
    if (sourceHandle && targetHandle && sourceHandle !== targetHandle) onLay(sourceHandle, targetHandle);
  }
  return (
    <ReactFlow
      ref={frame}
      nodes={nodes}
      edges={edges}
      nodeTypes={kinds}
      colorMode={mode === "light" ? "light" : "dark"}
      connectionMode={ConnectionMode.Loose}
      connectionRadius={18}
      nodesDraggable={false}
      fitViewOptions={{ padding: 0.03, maxZoom: 1.1 }}
      minZoom={0.2}
      maxZoom={1.6}
      proOptions={{ hideAttribution: true }}
      isValidConnection={aim}
      onConnect={lay}
      onConnectEnd={() => {
        aimed.current = "";
        onAim(null);
      }}
      onNodeClick={(_, node) => onChoose(node.id)}
      onEdgeClick={(_, edge) => edge.data?.cable !== undefined && onChoose(String(edge.data.cable))}
      onPaneClick={() => onChoose(null)}
      onKeyDown={open}
      ariaLabelConfig={said}
      style={{ background: "transparent" }}
      aria-label="Gear and cables"
    >
      {rig.devices.length > 0 && <Controls showInteractive={false} position="bottom-center" orientation="horizontal" />}
    </ReactFlow>
  );
}

/** How wide the map's frame is by now, in pixels. */
function useFrameWidth(frame: RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(900);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return;
    const watcher = new ResizeObserver(() => setWidth(box.clientWidth));
    watcher.observe(box);
    return () => watcher.disconnect();
  }, [frame]);
  return width;
}

/** Shows all of it where that can be read, else its beginning: at first, and again when gear came or went, or the frame changed. */
function useRefit(rig: Rig, width: number) {
  const flow = useReactFlow<GearNode>();
  const ready = useNodesInitialized();
  const gear = rig.devices.map(({ id }) => id).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is fitted is what stands there by then
  useEffect(() => {
    if (!ready) return;
    const fitGear = async () => {
      await flow.fitView({ padding: 0.02, maxZoom: 1.1 });
      if (flow.getZoom() < READABLE_ZOOM) await flow.setViewport({ x: 8, y: 14, zoom: READABLE_ZOOM });
    };
    fitGear();
  }, [ready, gear, width, flow]);
}

/** Under this its smallest words are smaller than 12 pixels. */
const READABLE_ZOOM = 0.96;
/** Where the line to who listens at a box leaves it, from its left edge. */
const STEM_X = 8;
const HANDLE_RADIUS = 3;
const cardWidth = (spot: Spot | undefined, apart: number) => (spot && spot.x > spot.column * apart ? CARD_WIDTH - INDENT : CARD_WIDTH);

function nodesOf(rig: Rig, lit: string[], chosen: string | null, apart: number): GearNode[] {
  const spots = layOutRig(rig, apart);
  return rig.devices.map((device) => ({
    id: device.id,
    type: "gear",
    position: { x: spots.get(device.id)?.x ?? 0, y: spots.get(device.id)?.y ?? 0 },
    width: cardWidth(spots.get(device.id), apart),
    height: cardHeight(device),
    ariaLabel: `${device.name}, ${device.profile_label}`,
    data: {
      device: spots.get(device.id)?.upward ? { ...device, ports: device.ports.toReversed() } : device,
      leads: device.clock === "leader",
      lit: lit.some((id) => id === device.id || id.startsWith(`${device.id}/`)),
      chosen: chosen === device.id,
      cables: cablesOf(rig, device),
    },
  }));
}

/**
 * What is said of each port's cable on the card where it ends: "12 + 2 of 48, 40 m". On the desk's own card it would
 * stand twice; on the cable itself it would lie over others.
 */
function cablesOf(rig: Rig, device: Device): Record<string, string> {
  if (device.kind === "desk" && rig.cables.every(({ a, b }) => !bothDesks(rig, a, b))) return {};
  return Object.fromEntries(
    device.ports.flatMap((port) => {
      const cable = cableAt(rig, device, port.name);
      return cable && (device.kind !== "desk" || bothDesks(rig, cable.a, cable.b))
        ? [[port.name, `${lanesText(cable)}, ${cable.length_m} m`]]
        : [];
    }),
  );
}

const bothDesks = (rig: Rig, a: string, b: string) =>
  [a, b].every((port) => rig.devices.some(({ id, kind }) => kind === "desk" && port.startsWith(`${id}/`)));

/** Cables with their lanes; over them, dashed, the way of the clock from its leader. */
function useEdges(rig: Rig, chosen: string | null): Edge[] {
  const theme = useTheme();
  const { error, divider, text, primary } = theme.vars?.palette ?? theme.palette;
  return useMemo(() => {
    const columns = new Map([...layOutRig(rig)].map(([id, spot]) => [id, spot.column]));
    // Between cards of one column a cable bows out to the side, its label with it.
    const bowed = (one: string, other: string, offset: number) =>
      columns.get(one.split("/")[0] ?? "") === columns.get(other.split("/")[0] ?? "")
        ? { type: "smoothstep", pathOptions: { offset: isDesk(one) ? offset / 2 : offset } }
        : {};
    // Between two desks it keeps clear of the boxes beside them.
    const isDesk = (port: string) => rig.devices.some(({ id, kind }) => kind === "desk" && port.startsWith(`${id}/`));
    const cables: Edge[] = rig.cables.map((cable) => ({
      id: cable.id,
      ...bowed(cable.a, cable.b, 46),
      source: cable.a.split("/")[0] ?? "",
      target: cable.b.split("/")[0] ?? "",
      sourceHandle: cable.a,
      targetHandle: cable.b,
      data: { cable: cable.id },
      ariaLabel: `Cable from ${portName(rig, cable.a)} to ${portName(rig, cable.b)}`,
      style: { strokeWidth: chosen === cable.id ? 5 : 3, stroke: cable.lost > 0 ? error.main : text.secondary },
    }));
    const plugs: Edge[] = rig.plugs.map((plug) => ({
      id: `${plug.from}>${plug.to}`,
      source: plug.from,
      target: plug.to,
      // Who listens at a box stands under it.
      ...(columns.get(plug.from) === columns.get(plug.to)
        ? { type: "smoothstep", pathOptions: { offset: INDENT - STEM_X - HANDLE_RADIUS }, sourceHandle: `${plug.from}/below` }
        : { sourceHandle: `${plug.from}/out` }),
      targetHandle: `${plug.to}/in`,
      ariaLabel: `${nameOf(rig, plug.to)} is plugged in at ${nameOf(rig, plug.from)}`,
      selectable: false,
      focusable: false,
      style: { stroke: divider, strokeWidth: 1.5 },
    }));
    const clocks: Edge[] = rig.devices.flatMap((device) => {
      const cable = rig.cables.find((one) => [one.a, one.b].includes(`${device.id}/${device.clock}`));
      if (!cable || !device.clock_arrives) return [];
      const own = `${device.id}/${device.clock}`;
      const other = cable.a === own ? cable.b : cable.a;
      return [
        {
          id: `clock-${device.id}`,
          ariaLabel: `The clock's way to ${device.name}`,
          source: other.split("/")[0] ?? "",
          target: device.id,
          sourceHandle: other,
          targetHandle: own,
          type: "straight",
          ...bowed(own, other, 26),
          selectable: false,
          focusable: false,
          markerEnd: { type: MarkerType.ArrowClosed, color: primary.main },
          style: { stroke: primary.main, strokeWidth: 1.5, strokeDasharray: "3 4" },
        },
      ];
    });
    return [...plugs, ...clocks, ...cables];
  }, [rig, chosen, error, divider, text, primary]);
}

function GearCard({ data: { device, leads, lit, chosen, cables } }: NodeProps<GearNode>) {
  return (
    <Box
      data-device={device.id}
      sx={{
        width: "100%",
        bgcolor: "background.paper",
        color: "text.primary",
        border: chosen || lit ? 2 : 1,
        borderColor: lit ? "error.main" : chosen || leads ? "primary.main" : "divider",
        borderRadius: 1,
        fontSize: 12.5,
        lineHeight: 1.3,
      }}
    >
      <Handle type="source" id={`${device.id}/out`} position={Position.Right} isConnectable={false} style={{ opacity: 0 }} />
      <Handle
        type="source"
        id={`${device.id}/below`}
        position={Position.Bottom}
        isConnectable={false}
        style={{ opacity: 0, left: STEM_X }}
      />
      <Handle type="source" id={`${device.id}/in`} position={Position.Left} isConnectable={false} style={{ opacity: 0 }} />
      <Box sx={{ px: 1, pt: 0.75, height: 58, overflow: "hidden" }}>
        <Box sx={{ fontWeight: 700, fontSize: 13.5, whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}>
          {device.name}
        </Box>
        <Box sx={{ color: "text.secondary", whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}>
          {device.profile_label}
        </Box>
        <Box sx={{ color: device.clock_arrives ? "text.secondary" : "error.main" }}>{clockWords(device)}</Box>
      </Box>
      {device.ports.map((port) => (
        <PortLine key={port.name} device={device} port={port} cable={cables[port.name]} />
      ))}
    </Box>
  );
}

function PortLine({ device, port, cable }: { device: Device; port: Device["ports"][number]; cable: string | undefined }) {
  const side = portSide(device, port);
  return (
    <Box
      sx={{
        position: "relative",
        height: PORT_HEIGHT,
        px: 1.25,
        display: "flex",
        alignItems: "center",
        justifyContent: "space-between",
        borderTop: 1,
        borderColor: "divider",
      }}
    >
      <Handle
        type="source"
        id={`${device.id}/${port.name}`}
        position={side === "left" ? Position.Left : Position.Right}
        title={`${port.standard}, ${port.lanes} lanes`}
        style={{ width: 14, height: 14, background: "#a98f5a" }}
      />
      <span>{port.label}</span>
      <Box component="span" sx={{ color: cable ? "text.primary" : "text.secondary", whiteSpace: "nowrap" }}>
        {cable ?? (port.modes.length > 1 ? port.mode : `${port.lanes}`)}
      </Box>
    </Box>
  );
}
