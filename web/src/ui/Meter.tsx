import { Box } from "@mui/material";
import { decibels, heat, meterShare } from "../model/format";

const colours = { quiet: "text.secondary", good: "success.main", hot: "warning.main", clipped: "error.main" };

const SCALE_DBFS = [-60, -40, -20, 0] as const;
/** Of the scale, and where a source that plays normally sits (common practice). */
const LINES_DBFS = [-40, -20, -18] as const;

/** A level from -60 dBFS to full scale, with its number for those who do not see the bar. */
interface Props {
  peakDbfs: number | undefined;
  /** The highest since it was last reset, as a thin line. */
  heldDbfs?: number;
  label: string;
  height?: number;
}

export function Meter({ peakDbfs, heldDbfs, label, height = 12 }: Props) {
  const peak = peakDbfs ?? -150;
  return (
    <Box
      role="meter"
      aria-label={label}
      aria-valuemin={-60}
      aria-valuemax={0}
      aria-valuenow={Math.max(-60, Math.round(peak))}
      aria-valuetext={`${decibels(peak)} dBFS`}
      sx={{ position: "relative", flex: 1, height, bgcolor: "divider", borderRadius: 0.5, overflow: "hidden" }}
    >
      <Box
        sx={{ position: "absolute", inset: 0, transformOrigin: "left", bgcolor: colours[heat(peak)] }}
        style={{ transform: `scaleX(${meterShare(peak)})` }}
      />
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
