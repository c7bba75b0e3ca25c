import { Box, useColorScheme } from "@mui/material";
import { dyes } from "../theme/theme";

const fills: Record<string, (colour: string) => string> = {
  solid: (colour) => colour,
  dash: (colour) => `repeating-linear-gradient(${colour} 0 7px, transparent 7px 11px)`,
  dot: (colour) => `repeating-linear-gradient(${colour} 0 2px, transparent 2px 6px)`,
  double: (colour) => `linear-gradient(to right, ${colour} 0 2px, transparent 2px 4px, ${colour} 4px 6px)`,
};

/** A group's colour with its stitch, as on the loom. */
export function Swatch({ colour, stitch }: { colour: string | null; stitch: string | null }) {
  const { mode } = useColorScheme();
  const dye = dyes[colour ?? ""]?.[mode === "light" ? "linen" : "night"] ?? "gray";
  return <Box aria-hidden sx={{ width: 6, height: "86%" }} style={{ background: fills[stitch ?? "solid"]?.(dye) ?? dye }} />;
}
