import CableOutlined from "@mui/icons-material/CableOutlined";
import DescriptionOutlined from "@mui/icons-material/DescriptionOutlined";
import DnsOutlined from "@mui/icons-material/DnsOutlined";
import InventoryOutlined from "@mui/icons-material/Inventory2Outlined";
import KeyboardOutlined from "@mui/icons-material/KeyboardOutlined";
import LibraryMusicOutlined from "@mui/icons-material/LibraryMusicOutlined";
import RadioButtonChecked from "@mui/icons-material/RadioButtonChecked";
import SwapHoriz from "@mui/icons-material/SwapHoriz";
import { Badge, Box, ButtonBase } from "@mui/material";
import { NavLink, useParams } from "react-router";
import type { Finding } from "../api/client";

const steps = [
  { key: "rig", name: "Rig", icon: DnsOutlined },
  { key: "patch", name: "Patch", icon: CableOutlined },
  { key: "capture", name: "Capture", icon: RadioButtonChecked },
  { key: "soundcheck", name: "Soundcheck", icon: SwapHoriz },
  { key: "tracks", name: "Tracks", icon: LibraryMusicOutlined },
  { key: "paper", name: "Paper", icon: DescriptionOutlined },
];

/** How many findings of a step are open; null, which is drawn and read as nothing, for none. */
const open = (findings: Finding[], step: string): number | null =>
  findings.filter((finding) => finding.step === step && finding.severity !== "note" && !finding.accepted).length || null;

/** The steps in the order of the work, each with the number of its open findings. */
export function StepRail({ findings, onKeys }: { findings: Finding[]; onKeys: () => void }) {
  const { show: named } = useParams();
  return (
    <Box
      component="nav"
      aria-label="Steps"
      sx={{
        width: 88,
        flexShrink: 0,
        borderRight: 1,
        borderColor: "divider",
        pt: 1,
        display: "flex",
        flexDirection: "column",
        "& a, & button": {
          display: "flex",
          flexDirection: "column",
          alignItems: "center",
          gap: 0.25,
          py: 1.1,
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
          <Badge color="error" badgeContent={open(findings, key)}>
            <Icon fontSize="small" />
          </Badge>
          {name}
        </NavLink>
      ))}
      <ButtonBase onClick={onKeys} aria-keyshortcuts="?" sx={{ mt: "auto", mb: 1, fontFamily: "inherit" }}>
        <KeyboardOutlined fontSize="small" />
        Keys
      </ButtonBase>
    </Box>
  );
}
