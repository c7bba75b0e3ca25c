import { Box } from "@mui/material";
import { decibels, heat, meterShare } from "../model/format";

const colours = { quiet: "text.secondary", good: "success.main", hot: "warning.main", clipped: "error.main" };

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
      <Box sx={{ position: "absolute", left: "66.7%", top: 0, bottom: 0, width: "1px", bgcolor: "background.default" }} />
      <Box sx={{ position: "absolute", left: "33.3%", top: 0, bottom: 0, width: "1px", bgcolor: "background.default" }} />
      <Box sx={{ position: "absolute", left: "70%", top: 0, bottom: 0, width: "1px", bgcolor: "background.default" }} />
    </Box>
  );
}
