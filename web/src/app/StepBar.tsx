import MoreHoriz from "@mui/icons-material/MoreHoriz";
import { Badge, Box, ButtonBase } from "@mui/material";
import { useState } from "react";
import { NavLink, useParams } from "react-router";
import type { Finding } from "../api/client";
import { BottomSheet } from "../ui/BottomSheet";
import { useWidth } from "../ui/useWidth";
import { openOn, steps } from "./steps";

const look = {
  display: "flex",
  flexDirection: "column",
  alignItems: "center",
  justifyContent: "center",
  gap: 0.25,
  flex: "1 1 0",
  minWidth: 0,
  minHeight: 54,
  color: "text.secondary",
  textDecoration: "none",
  font: "inherit",
  fontSize: 12,
  lineHeight: 1.3,
  whiteSpace: "nowrap",
  borderTop: "3px solid transparent",
  "&.active": { color: "text.primary", borderColor: "primary.main" },
} as const;

/** The steps where a thumb reaches them: all of them on a tablet; on a phone those of the stage, and the others behind one more. */
export function StepBar({ findings }: { findings: Finding[] }) {
  const { step = "" } = useParams();
  const phone = useWidth() === "phone";
  const [open, setOpen] = useState(false);
  const shown = phone ? steps.filter(({ inHand }) => inHand) : steps;
  const others = steps.filter((one) => !shown.includes(one));
  const waiting = others.reduce((sum, { key }) => sum + (openOn(findings, key) ?? 0), 0);
  const elsewhere = others.find(({ key }) => key === step);
  return (
    <Box
      component="nav"
      aria-label="Steps"
      sx={{
        display: "flex",
        flexShrink: 0,
        borderTop: 1,
        borderColor: "divider",
        bgcolor: "background.paper",
        pb: "env(safe-area-inset-bottom)",
      }}
    >
      {shown.map((one) => (
        <StepLink key={one.key} step={one} findings={findings} />
      ))}
      {phone && (
        <ButtonBase onClick={() => setOpen(true)} className={elsewhere ? "active" : ""} sx={look}>
          <Badge color="error" badgeContent={waiting || null}>
            <MoreHoriz fontSize="small" />
          </Badge>
          {elsewhere?.name ?? "Others"}
        </ButtonBase>
      )}
      <BottomSheet title="Other steps" open={open} onClose={() => setOpen(false)}>
        <Box sx={{ display: "flex" }}>
          {others.map((one) => (
            <StepLink key={one.key} step={one} findings={findings} onGo={() => setOpen(false)} />
          ))}
        </Box>
      </BottomSheet>
    </Box>
  );
}

function StepLink({
  step: { key, name, icon: Icon },
  findings,
  onGo,
}: {
  step: (typeof steps)[number];
  findings: Finding[];
  onGo?: () => void;
}) {
  const { show: named } = useParams();
  return (
    <Box component={NavLink} to={`/shows/${named}/${key}`} onClick={onGo} sx={look}>
      <Badge color="error" badgeContent={openOn(findings, key)}>
        <Icon fontSize="small" />
      </Badge>
      {name}
    </Box>
  );
}
