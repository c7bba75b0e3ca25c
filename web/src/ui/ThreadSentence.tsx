import { Box, Button } from "@mui/material";
import type { ReactNode } from "react";

interface Props {
  sentence: string | undefined;
  rest: string;
  /** Whether the sentence tells of something that does not work; known from the words where it is not given. */
  broken?: boolean;
  /** What would mend it, where a check knows. */
  mend?: { label: string; onMend: () => void };
  /** What can be set at the place it tells of. */
  children?: ReactNode;
}

/** The plain sentence under a loom: which way a thread goes, or where it stops and why. */
export function ThreadSentence({ sentence, rest, broken, mend, children }: Props) {
  const stops = broken ?? (sentence?.includes("would record") || sentence?.includes("not plugged"));
  return (
    <Box
      aria-live="polite"
      data-testid="sentence"
      sx={{
        mx: 2,
        mb: 1.5,
        mt: 0.5,
        px: 1.75,
        py: 0.9,
        minHeight: 44,
        display: "flex",
        alignItems: "center",
        gap: 2,
        bgcolor: "background.paper",
        borderLeft: 3,
        borderColor: stops ? "error.main" : "divider",
        color: sentence ? "text.primary" : "text.secondary",
        fontSize: 14,
      }}
    >
      <Box component="span" sx={{ flex: 1 }}>
        {sentence ?? rest}
      </Box>
      {mend && (
        <Button size="small" variant="contained" sx={{ flexShrink: 0 }} onClick={mend.onMend}>
          {mend.label}
        </Button>
      )}
      {children}
    </Box>
  );
}
