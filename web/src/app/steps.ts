import CableOutlined from "@mui/icons-material/CableOutlined";
import DescriptionOutlined from "@mui/icons-material/DescriptionOutlined";
import DnsOutlined from "@mui/icons-material/DnsOutlined";
import HearingOutlined from "@mui/icons-material/HearingOutlined";
import LibraryMusicOutlined from "@mui/icons-material/LibraryMusicOutlined";
import RadioButtonChecked from "@mui/icons-material/RadioButtonChecked";
import SpeakerOutlined from "@mui/icons-material/SpeakerOutlined";
import SwapHoriz from "@mui/icons-material/SwapHoriz";
import type { Finding } from "../api/client";

/** The steps in the order of the work. Those that are used with a phone in one hand stand in its bottom bar. */
export const steps = [
  { key: "rig", name: "Rig", icon: DnsOutlined, inHand: false },
  { key: "patch", name: "Patch", icon: CableOutlined, inHand: true },
  { key: "line-check", name: "Line check", icon: HearingOutlined, inHand: true },
  { key: "capture", name: "Capture", icon: RadioButtonChecked, inHand: true },
  { key: "soundcheck", name: "Soundcheck", icon: SwapHoriz, inHand: false },
  { key: "tracks", name: "Tracks", icon: LibraryMusicOutlined, inHand: true },
  { key: "outputs", name: "Outputs", icon: SpeakerOutlined, inHand: false },
  { key: "paper", name: "Paper", icon: DescriptionOutlined, inHand: false },
] as const;

/** How many findings of a step are open; null, which is drawn and read as nothing, for none. */
export const openOn = (findings: Finding[], step: string): number | null =>
  findings.filter((finding) => finding.step === step && finding.severity !== "note" && !finding.accepted).length || null;
