import { Box, useColorScheme } from "@mui/material";
import { useEffect, useRef } from "react";
import type { Show } from "../../api/client";
import { dyes } from "../../theme/theme";

const HEIGHT_PX = 100;
const WEFT_PX = 9;

type Song = Show["songs"][number];

/** A song as cloth: what has sounded is woven in its section's dye, what is to come is bare warp, the shuttle rides where we are. */
export function Cloth({ song, position }: { song: Song; position: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { mode } = useColorScheme();
  useEffect(() => {
    const box = canvas.current;
    const pen = box?.getContext("2d");
    if (!box || !pen) return;
    const wide = box.clientWidth;
    const scale = window.devicePixelRatio || 1;
    box.width = wide * scale;
    box.height = HEIGHT_PX * scale;
    pen.scale(scale, scale);
    // The theme's own value is a variable that a canvas does not know.
    const ink = getComputedStyle(box).color;
    const x = (frame: number) => (frame / Math.max(1, song.playing_frames)) * wide;
    const whole = { from_frame: 0, to_frame: song.playing_frames, colour: null as string | null };
    for (const { from_frame, to_frame, colour } of song.sections.length ? song.sections : [whole]) {
      const dye = dyes[colour ?? ""]?.[mode === "light" ? "linen" : "night"] ?? ink;
      const [left, right, now] = [x(from_frame), x(to_frame), Math.min(Math.max(x(position), x(from_frame)), x(to_frame))];
      pen.strokeStyle = dye;
      pen.globalAlpha = 0.3;
      pen.lineWidth = 1;
      pen.beginPath();
      for (let at = left; at < right; at += 5) {
        pen.moveTo(at + 0.5, 0);
        pen.lineTo(at + 0.5, HEIGHT_PX - 10);
      }
      pen.stroke();
      pen.globalAlpha = 1;
      pen.lineWidth = 4;
      pen.setLineDash([9, 3]);
      pen.beginPath();
      for (let row = 0, y = 5; y < HEIGHT_PX - 10; row++, y += WEFT_PX) {
        pen.moveTo(left + (row % 2) * 6, y);
        pen.lineTo(now, y);
      }
      if (now > left) pen.stroke();
      pen.setLineDash([]);
      pen.lineWidth = 1;
      pen.strokeStyle = ink;
      pen.beginPath();
      pen.moveTo(left + 0.5, 0);
      pen.lineTo(left + 0.5, HEIGHT_PX);
      pen.stroke();
    }
    const here = x(position);
    pen.fillStyle = ink;
    pen.fillRect(here - 1, 0, 2, HEIGHT_PX);
    pen.beginPath();
    pen.ellipse(here, HEIGHT_PX / 2 - 5, 30, 12, 0, 0, Math.PI * 2);
    pen.fill();
  }, [song, position, mode]);
  return (
    <Box sx={{ position: "relative" }}>
      <Box sx={{ position: "relative", height: 26, fontSize: { xs: 13, md: 16 }, color: "text.secondary", overflow: "hidden" }}>
        {song.sections.map((section) => (
          <Box
            key={section.id}
            sx={{ position: "absolute", whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis" }}
            style={{
              left: `${(section.from_frame / song.playing_frames) * 100}%`,
              width: `${((section.to_frame - section.from_frame) / song.playing_frames) * 100}%`,
            }}
          >
            {section.name}
          </Box>
        ))}
      </Box>
      <canvas ref={canvas} aria-hidden style={{ width: "100%", height: HEIGHT_PX, display: "block" }} />
    </Box>
  );
}
