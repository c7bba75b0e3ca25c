import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";

/** The head of a step: its name, one line on what it is for, and its commands. */
export function StepHead({ title, hint, children }: { title: string; hint?: string; children?: ReactNode }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, px: 2, pt: 1.25, pb: 0.75, flexWrap: "wrap" }}>
      <Typography component="h2" variant="h1">
        {title}
      </Typography>
      {hint && (
        <Typography color="text.secondary" sx={{ flex: "1 1 200px", fontSize: 13 }}>
          {hint}
        </Typography>
      )}
      {children}
    </Box>
  );
}
