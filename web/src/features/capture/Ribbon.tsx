import { useTheme } from "@mui/material";
import { useEffect, useRef } from "react";
import { heat, meterShare } from "../../model/format";

/** Two seconds a stroke, ten minutes in all. */
const STROKES = 300;

/** What happened while nobody looked: quiet, good, hot or clipped, stroke by stroke. */
export function Ribbon({ values, label, height }: { values: number[]; label: string; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another theme paints the same values anew
  useEffect(() => {
    const box = canvas.current;
    const pen = box?.getContext("2d");
    if (!box || !pen) return;
    const styles = getComputedStyle(box);
    const colour = (name: string) => styles.getPropertyValue(`--mui-palette-${name}`);
    const colours = {
      quiet: colour("text-secondary"),
      good: colour("success-main"),
      hot: colour("warning-main"),
      clipped: colour("error-main"),
    };
    box.width = box.clientWidth;
    pen.clearRect(0, 0, box.width, box.height);
    const stroke = Math.max(1, box.width / STROKES);
    values.forEach((peak, i) => {
      const tall = Math.max(1, meterShare(peak) * box.height);
      pen.fillStyle = colours[heat(peak)];
      pen.fillRect(box.width - (values.length - i) * stroke, box.height - tall, Math.max(1, stroke - 0.5), tall);
    });
  }, [values, theme.palette.mode]);
  return (
    <canvas
      ref={canvas}
      height={height}
      role="img"
      aria-label={`${label}, the last ten minutes`}
      style={{ width: "100%", height, background: "color-mix(in srgb, currentColor 5%, transparent)" }}
    />
  );
}
