import { useTheme } from "@mui/material";
import { useEffect, useRef } from "react";
import { useDye } from "./loom/dye";

interface Props {
  points: (number[] | null)[];
  /** From and to, and the dye where it is not the track's own. */
  pieces: { from: number; to: number; colour?: string }[];
  from: number;
  to: number;
  colour: string;
  height: number;
  label: string;
}

/** One track: its waveform where there is something, in whose dye that is; a bare thread where there is nothing. */
export function Weft({ points, pieces, from, to, colour, height, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { palette } = useTheme();
  const dyed = useDye();
  // Of whoever draws it anew each time, only what it says counts.
  const woven = JSON.stringify(pieces);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another theme paints the same values anew
  useEffect(() => {
    const box = canvas.current;
    const pen = box?.getContext("2d");
    if (!box || !pen) return;
    box.width = box.clientWidth;
    pen.clearRect(0, 0, box.width, box.height);
    const at = (frame: number) => ((frame - from) / (to - from)) * box.width;
    pen.globalAlpha = 0.35;
    pen.fillStyle = getComputedStyle(box).color;
    pen.fillRect(0, box.height / 2, box.width, 1);
    const all = (JSON.parse(woven) as Props["pieces"]).filter((one) => one.to > one.from);
    for (const piece of all) {
      pen.fillStyle = dyed(piece.colour ?? colour);
      pen.fillRect(at(piece.from), 0, Math.max(1, at(piece.to) - at(piece.from)), box.height);
    }
    pen.globalAlpha = 1;
    points.forEach((point, i) => {
      const x = (i / points.length) * box.width;
      const piece = all.find((one) => x >= at(one.from) - 1 && x <= at(one.to) + 1);
      if (!point || (all.length > 0 && !piece)) return;
      pen.fillStyle = dyed(piece?.colour ?? colour);
      const tall = (value: number) => Math.sqrt(Math.abs(value) / 32768) * Math.sign(value) * (box.height / 2);
      const top = box.height / 2 - tall(point[1] ?? 0);
      pen.fillRect(x, top, Math.max(1, box.width / points.length), Math.max(1, box.height / 2 - tall(point[0] ?? 0) - top));
    });
  }, [points, from, to, colour, woven, height, palette.mode]);
  return <canvas ref={canvas} height={height} role="img" aria-label={`${label}, its waveform`} style={{ flex: 1, minWidth: 0, height }} />;
}
