import { Box } from "@mui/material";

/** The plain sentence under a loom: which way a thread goes, or where it stops and why. */
export function ThreadSentence({ sentence, rest }: { sentence: string | undefined; rest: string }) {
  const broken = sentence?.includes("would record") || sentence?.includes("not plugged");
  return (
    <Box
      aria-live="polite"
      data-testid="sentence"
      sx={{
        mx: 2,
        mb: 1.5,
        mt: 0.5,
        px: 1.75,
        py: 1.1,
        minHeight: 44,
        bgcolor: "background.paper",
        borderLeft: 3,
        borderColor: broken ? "error.main" : "divider",
        color: sentence ? "text.primary" : "text.secondary",
        fontSize: 14,
      }}
    >
      {sentence ?? rest}
    </Box>
  );
}
