import MoreVert from "@mui/icons-material/MoreVert";
import { Box, IconButton, Popover } from "@mui/material";
import { type ReactNode, useState } from "react";

/** What the strip has no room for, one tap away. */
export function StripMenu({ children }: { children: ReactNode }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <IconButton aria-label="More of the show" edge="end" onClick={(event) => setAt(event.currentTarget)}>
        <MoreVert />
      </IconButton>
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={() => setAt(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
      >
        <Box sx={{ display: "flex", flexDirection: "column", alignItems: "flex-start", gap: 1, p: 1.5, minWidth: 220 }}>{children}</Box>
      </Popover>
    </>
  );
}
