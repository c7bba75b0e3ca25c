import InventoryOutlined from "@mui/icons-material/Inventory2Outlined";
import KeyboardOutlined from "@mui/icons-material/KeyboardOutlined";
import MenuBookOutlined from "@mui/icons-material/MenuBookOutlined";
import { Badge, Box, ButtonBase } from "@mui/material";
import { NavLink, useParams } from "react-router";
import type { Finding } from "../api/client";
import { guideAt } from "./guide";
import { openOn, steps } from "./steps";

/** The steps in the order of the work, each with the number of its open findings. */
export function StepRail({ findings, onKeys }: { findings: Finding[]; onKeys: () => void }) {
  const { show: named, step = "" } = useParams();
  return (
    <Box
      component="nav"
      aria-label="Steps"
      sx={{
        width: 88,
        flexShrink: 0,
        borderRight: 1,
        borderColor: "divider",
        pt: 0.5,
        display: "flex",
        flexDirection: "column",
        overflowY: "auto",
        "& a, & button": {
          display: "flex",
          flexDirection: "column",
          alignItems: "center",
          gap: 0.25,
          py: 0.9,
          color: "text.secondary",
          textDecoration: "none",
          fontSize: 12.5,
          borderLeft: "3px solid transparent",
        },
        "& a.active": { color: "text.primary", borderColor: "primary.main", bgcolor: "background.paper" },
      }}
    >
      <NavLink to="/" end>
        <InventoryOutlined fontSize="small" />
        All shows
      </NavLink>
      {steps.map(({ key, name, icon: Icon }) => (
        <NavLink key={key} to={`/shows/${named}/${key}`}>
          <Badge color="error" badgeContent={openOn(findings, key)}>
            <Icon fontSize="small" />
          </Badge>
          {name}
        </NavLink>
      ))}
      <Box component="a" href={guideAt(step)} target="_blank" rel="noreferrer" sx={{ mt: "auto" }}>
        <MenuBookOutlined fontSize="small" />
        Guide
      </Box>
      <ButtonBase onClick={onKeys} aria-keyshortcuts="?" sx={{ mb: 0.5, font: "inherit", lineHeight: 1.3 }}>
        <KeyboardOutlined fontSize="small" />
        Keys
      </ButtonBase>
    </Box>
  );
}
