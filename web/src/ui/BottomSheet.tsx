import Close from "@mui/icons-material/Close";
import { Box, Drawer, IconButton, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { useWidth } from "./useWidth";

interface Props {
  title: string;
  open: boolean;
  onClose: () => void;
  children: ReactNode;
}

/** What slides over the page where there is no room beside it: from below on a phone, from the right on a tablet. */
export function BottomSheet({ title, open, onClose, children }: Props) {
  const phone = useWidth() === "phone";
  return (
    <Drawer
      anchor={phone ? "bottom" : "right"}
      open={open}
      onClose={onClose}
      slotProps={{
        paper: {
          role: "dialog",
          "aria-label": title,
          sx: phone ? { maxHeight: "82dvh", borderRadius: "12px 12px 0 0" } : { width: 380 },
        },
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", pl: 2, pr: 1, py: 0.5, borderBottom: 1, borderColor: "divider" }}>
        <Typography component="h2" variant="h2" sx={{ flex: 1 }}>
          {title}
        </Typography>
        <IconButton aria-label={`Close ${title.toLowerCase()}`} onClick={onClose}>
          <Close />
        </IconButton>
      </Box>
      <Box sx={{ overflow: "auto", p: 1.5 }}>{children}</Box>
    </Drawer>
  );
}
