import { Box } from "@mui/material";
import { useRef } from "react";
import { useEachFrame, useLevels } from "../api/live";
import { decibels, type Heat, heat, meterShare } from "../model/format";
import type { LevelOf } from "../model/levelOf";

const byHeat: Record<`&[data-heat=${Heat}]`, { bgcolor: string }> = {
  "&[data-heat=quiet]": { bgcolor: "text.secondary" },
  "&[data-heat=good]": { bgcolor: "success.main" },
  "&[data-heat=hot]": { bgcolor: "warning.main" },
  "&[data-heat=clipped]": { bgcolor: "error.main" },
};

const SCALE_DBFS = [-60, -40, -20, 0] as const;
/** Of the scale, and where a source that plays normally sits (common practice). */
const LINES_DBFS = [-40, -20, -18] as const;

/** A level from -60 dBFS to full scale, with its number for those who do not see the bar. */
interface Props {
  of: LevelOf;
  /** The highest since it was last reset, as a thin line. */
  heldDbfs?: number;
  label: string;
  height?: number;
}

/**
 * As long as it is there its level comes: no page has to ask for what its meters show. The bar follows each frame by
 * hand: rendering rows of a table twenty times a second took half of a core.
 */
export function Meter({ of, heldDbfs, label, height = 12 }: Props) {
  const meter = useRef<HTMLDivElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  useLevels(of.wants);
  useEachFrame((frame) => {
    if (!meter.current || !bar.current) return;
    const peak = of.in(frame);
    set(meter.current, "aria-valuenow", String(Math.max(-60, Math.round(peak))));
    set(meter.current, "aria-valuetext", `${decibels(peak)} dBFS`);
    set(bar.current, "data-heat", heat(peak));
    bar.current.style.transform = `scaleX(${meterShare(peak)})`;
  });
  return (
    <Box
      ref={meter}
      role="meter"
      aria-label={label}
      aria-valuemin={-60}
      aria-valuemax={0}
      aria-valuenow={-60}
      sx={{ position: "relative", flex: 1, height, bgcolor: "divider", borderRadius: 0.5, overflow: "hidden" }}
    >
      <Box ref={bar} sx={{ position: "absolute", inset: 0, transformOrigin: "left", ...byHeat }} />
      {heldDbfs !== undefined && heldDbfs > -60 && (
        <Box
          sx={{ position: "absolute", top: 0, bottom: 0, width: "2px", bgcolor: "text.primary" }}
          style={{ left: `calc(${meterShare(heldDbfs) * 100}% - 2px)` }}
        />
      )}
      {LINES_DBFS.map((line) => (
        <Box
          key={line}
          sx={{ position: "absolute", left: `${meterShare(line) * 100}%`, top: 0, bottom: 0, width: "1px", bgcolor: "background.default" }}
        />
      ))}
    </Box>
  );
}

function set(element: HTMLElement, name: string, value: string) {
  if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}

/** The same level as a number that follows each frame. */
export function MeterNumber({ of }: { of: LevelOf }) {
  const text = useRef<HTMLSpanElement>(null);
  useLevels(of.wants);
  useEachFrame((frame) => {
    const words = decibels(of.in(frame));
    if (text.current && text.current.textContent !== words) text.current.textContent = words;
  });
  return <span ref={text} />;
}

/** The scale over a column of meters in dBFS, at the lines that they have. */
export function MeterScale() {
  return (
    <Box
      aria-hidden
      sx={{
        position: "relative",
        height: 16,
        fontSize: 12,
        color: "text.secondary",
        lineHeight: "16px",
        // Where it is narrow the marks would run into each other.
        containerType: "inline-size",
        "@container (max-width: 110px)": { "& [data-mark='-40']": { display: "none" } },
      }}
    >
      {SCALE_DBFS.map((mark) => (
        <Box
          key={mark}
          data-mark={mark}
          component="span"
          sx={{
            position: "absolute",
            left: `${meterShare(mark) * 100}%`,
            transform: mark === -60 ? "none" : mark === 0 ? "translateX(-100%)" : "translateX(-50%)",
          }}
        >
          {mark === 0 ? "0" : `−${-mark}`}
        </Box>
      ))}
    </Box>
  );
}
