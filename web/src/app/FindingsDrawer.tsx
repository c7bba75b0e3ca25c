import ChevronLeft from "@mui/icons-material/ChevronLeft";
import Close from "@mui/icons-material/Close";
import { Box, Button, ButtonBase, IconButton, TextField, Typography } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Finding } from "../api/client";
import { useShowCommand } from "../api/queries";

interface Props {
  findings: Finding[];
  step: string;
  onShow: (endpoints: string[]) => void;
  onClose: () => void;
}

/** What the checks have to say: what, why, show me, mend it. */
export function FindingsDrawer({ findings, step, onShow, onClose }: Props) {
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
      {findings.length === 0 && <Typography color="text.secondary">Nothing found in what is patched.</Typography>}
      {findings.map((finding) => (
        <FindingCard key={finding.key} finding={finding} onShow={onShow} />
      ))}
    </Box>
  );
}

/** What is left of the drawer when it is folded: how much of what is open, and the way back. */
export function FindingsRail({ findings, onOpen }: { findings: Finding[]; onOpen: () => void }) {
  const open = findings.filter((finding) => !finding.accepted);
  const counts = severities.map((severity) => ({ severity, count: open.filter((finding) => finding.severity === severity).length }));
  return (
    <ButtonBase
      aria-label={`Findings: ${counts.map(({ severity, count }) => `${count} ${words[severity].toLowerCase()}`).join(", ")}`}
      onClick={onOpen}
      sx={{
        width: 44,
        fontFamily: "inherit",
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
          title={words[severity]}
          sx={{
            minWidth: 26,
            borderLeft: 3,
            borderColor: count > 0 ? colours[severity] : "transparent",
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

const severities = ["stop", "warn", "note"] as const;
const words = { stop: "Stop", warn: "Likely a mistake", note: "Worth knowing" };
const colours = { stop: "error.main", warn: "warning.main", note: "divider" };

function FindingCard({ finding, onShow }: { finding: Finding; onShow: (endpoints: string[]) => void }) {
  const mend = useShowCommand("mends");
  const accept = useShowCommand("accepted");
  const navigate = useNavigate();
  const { show: named } = useParams();
  const [reason, setReason] = useState<string | null>(null);
  function leave(event: FormEvent) {
    event.preventDefault();
    accept({ key: finding.key, digest: finding.digest, reason: reason ?? "" });
    setReason(null);
  }
  const accepted = finding.accepted !== null && finding.accepted !== undefined;
  function show() {
    navigate(`/shows/${named}/${finding.step}`);
    onShow(finding.endpoints);
  }
  return (
    <Box
      component="article"
      data-rule={finding.rule}
      sx={{
        border: 1,
        borderColor: "divider",
        borderLeft: 4,
        borderLeftColor: accepted ? "divider" : colours[finding.severity],
        borderRadius: 1,
        p: 1.25,
        mb: 1.25,
        color: accepted ? "text.secondary" : "text.primary",
      }}
    >
      <Typography sx={{ fontSize: 12, color: accepted || finding.severity === "note" ? "text.secondary" : colours[finding.severity] }}>
        {accepted
          ? `Left on purpose by ${finding.accepted?.who}${finding.accepted?.reason ? `: ${finding.accepted.reason}` : ""}`
          : words[finding.severity]}
      </Typography>
      <Typography component="h3" sx={{ fontWeight: 700, fontSize: 14 }}>
        {finding.title}
      </Typography>
      <Typography sx={{ fontSize: 13, my: 0.5 }}>{finding.what}</Typography>
      <Typography color="text.secondary" sx={{ fontSize: 12.5, mb: 1 }}>
        {finding.why}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        {finding.mend && !accepted && (
          <Button variant="contained" size="small" sx={{ textAlign: "left", lineHeight: 1.2 }} onClick={() => mend({ key: finding.key })}>
            {finding.mend.label}
          </Button>
        )}
        <Button variant="outlined" size="small" color="inherit" onClick={show}>
          Show me
        </Button>
        <Button
          size="small"
          color="inherit"
          onClick={() =>
            accepted ? accept({ key: finding.key, digest: null, reason: "" }) : setReason((text) => (text === null ? "" : null))
          }
        >
          {accepted ? "List again" : "On purpose"}
        </Button>
      </Box>
      {reason !== null && !accepted && (
        <Box component="form" sx={{ display: "flex", gap: 0.75, mt: 1 }} onSubmit={leave}>
          <TextField
            size="small"
            autoFocus
            fullWidth
            label="Why it is meant"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <Button type="submit" size="small" variant="outlined" color="inherit" sx={{ flexShrink: 0 }}>
            Leave it so
          </Button>
        </Box>
      )}
    </Box>
  );
}
