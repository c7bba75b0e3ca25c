import CableOutlined from "@mui/icons-material/CableOutlined";
import DescriptionOutlined from "@mui/icons-material/DescriptionOutlined";
import DnsOutlined from "@mui/icons-material/DnsOutlined";
import InventoryOutlined from "@mui/icons-material/Inventory2Outlined";
import LibraryMusicOutlined from "@mui/icons-material/LibraryMusicOutlined";
import RadioButtonChecked from "@mui/icons-material/RadioButtonChecked";
import SwapHoriz from "@mui/icons-material/SwapHoriz";
import { Badge, Box } from "@mui/material";
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

/** The steps in the order of the work, each with the number of its open findings. */
export function StepRail({ findings }: { findings: Finding[] }) {
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
        "& a": {
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
          <Badge
            color="error"
            badgeContent={findings.filter((finding) => finding.step === key && finding.severity !== "note" && !finding.accepted).length}
          >
            <Icon fontSize="small" />
          </Badge>
          {name}
        </NavLink>
      ))}
    </Box>
  );
}
