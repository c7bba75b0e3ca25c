import ChevronLeft from "@mui/icons-material/ChevronLeft";
import Close from "@mui/icons-material/Close";
import { Box, ButtonBase, IconButton, Typography } from "@mui/material";
import type { Finding } from "../api/client";
import { BottomSheet } from "../ui/BottomSheet";
import { FindingCard, severities, severityColours, severityWords } from "../ui/findings/FindingCard";

interface Props {
  findings: Finding[];
  step: string;
  onShow: (endpoints: string[]) => void;
  onClose: () => void;
}

/** What the checks have to say: what, why, show me, mend it. */
export function FindingsSide({ findings, step, onShow, onClose }: Props) {
  const here = findings.filter((finding) => finding.step === step).length;
  return (
    <Box
      component="aside"
      aria-label="Findings"
      sx={{ width: 308, flexShrink: 0, borderLeft: 1, borderColor: "divider", p: 1.5, overflow: "auto", bgcolor: "background.paper" }}
    >
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Typography component="h2" variant="h2" sx={{ flex: 1 }}>
          Findings
        </Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {here} on this step
        </Typography>
        <IconButton size="small" aria-label="Close findings" onClick={onClose}>
          <Close fontSize="small" />
        </IconButton>
      </Box>
      <FindingCards findings={findings} onShow={onShow} />
    </Box>
  );
}

/** What is left of the drawer when it is folded: how much of what is open, and the way back. */
export function FindingsRail({ findings, onOpen }: { findings: Finding[]; onOpen: () => void }) {
  const open = findings.filter((finding) => !finding.accepted);
  const counts = severities.map((severity) => ({ severity, count: open.filter((finding) => finding.severity === severity).length }));
  return (
    <ButtonBase
      aria-label={`Findings: ${counts.map(({ severity, count }) => `${count} ${severityWords[severity].toLowerCase()}`).join(", ")}`}
      onClick={onOpen}
      sx={{
        width: 44,
        font: "inherit",
        flexShrink: 0,
        borderLeft: 1,
        borderColor: "divider",
        bgcolor: "background.paper",
        flexDirection: "column",
        gap: 1,
        justifyContent: "flex-start",
        pt: 1.5,
      }}
    >
      <ChevronLeft fontSize="small" />
      {counts.map(({ severity, count }) => (
        <Box
          key={severity}
          title={severityWords[severity]}
          sx={{
            minWidth: 26,
            borderLeft: 3,
            borderColor: count > 0 ? severityColours[severity] : "transparent",
            color: count > 0 ? "text.primary" : "text.secondary",
            fontWeight: 700,
          }}
        >
          {count}
        </Box>
      ))}
    </ButtonBase>
  );
}

/** Where there is no room beside the page they slide over it, and go when one of them is to be shown. */
export function FindingsSheet({ findings, open, onShow, onClose }: Omit<Props, "step"> & { open: boolean }) {
  return (
    <BottomSheet title="Findings" open={open} onClose={onClose}>
      <FindingCards
        findings={findings}
        onShow={(endpoints) => {
          onShow(endpoints);
          onClose();
        }}
      />
    </BottomSheet>
  );
}

function FindingCards({ findings, onShow }: Pick<Props, "findings" | "onShow">) {
  if (findings.length === 0) return <Typography color="text.secondary">Nothing found in what is patched.</Typography>;
  return findings.map((finding) => <FindingCard key={finding.key} finding={finding} onShow={onShow} />);
}
