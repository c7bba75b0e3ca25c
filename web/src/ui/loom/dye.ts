import { useColorScheme, useTheme } from "@mui/material";
import { useCallback } from "react";
import { dyes } from "../../theme/theme";

/** A dye in the theme of now; grey where nothing runs. */
export function useDye() {
  const theme = useTheme();
  const { mode, systemMode } = useColorScheme();
  const shade = (mode === "system" ? systemMode : mode) === "light" ? "linen" : "night";
  const rest = theme.vars?.palette.text.secondary ?? "gray";
  return useCallback((name: string | null | undefined) => dyes[name ?? ""]?.[shade] ?? rest, [shade, rest]);
}
