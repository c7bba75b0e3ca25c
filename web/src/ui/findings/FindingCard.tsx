import { Box, Button, TextField, Typography } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Finding } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useMay } from "../../api/may";

export const severities = ["stop", "warn", "note"] as const;
export const severityWords = { stop: "Stop", warn: "Likely a mistake", note: "Worth knowing" };
export const severityColours = { stop: "error.main", warn: "warning.main", note: "divider" };

/** One finding: what, why, show me, mend it. Who may not mend sees no button for it. */
export function FindingCard({ finding, onShow }: { finding: Finding; onShow?: (endpoints: string[]) => void }) {
  const mend = useShowCommand("mends");
  const accept = useShowCommand("accepted");
  const operates = useMay("operate");
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
    onShow?.(finding.endpoints);
  }
  return (
    <Box
      component="article"
      data-rule={finding.rule}
      sx={{
        border: 1,
        borderColor: "divider",
        borderLeft: 4,
        borderLeftColor: accepted ? "divider" : severityColours[finding.severity],
        borderRadius: 1,
        p: 1.25,
        mb: 1.25,
        color: accepted ? "text.secondary" : "text.primary",
      }}
    >
      <Typography
        sx={{ fontSize: 12, color: accepted || finding.severity === "note" ? "text.secondary" : severityColours[finding.severity] }}
      >
        {accepted
          ? `Left on purpose by ${finding.accepted?.who}${finding.accepted?.reason ? `: ${finding.accepted.reason}` : ""}`
          : severityWords[finding.severity]}
      </Typography>
      <Typography component="h3" sx={{ fontWeight: 700, fontSize: 14 }}>
        {finding.title}
      </Typography>
      <Typography sx={{ fontSize: 13, my: 0.5 }}>{finding.what}</Typography>
      <Typography color="text.secondary" sx={{ fontSize: 12.5, mb: 1 }}>
        {finding.why}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75 }}>
        {operates && finding.mend && !accepted && (
          <Button variant="contained" size="small" sx={{ textAlign: "left", lineHeight: 1.2 }} onClick={() => mend({ key: finding.key })}>
            {finding.mend.label}
          </Button>
        )}
        {onShow && (
          <Button variant="outlined" size="small" color="inherit" onClick={show}>
            Show me
          </Button>
        )}
        {operates && (
          <Button
            size="small"
            color="inherit"
            onClick={() =>
              accepted ? accept({ key: finding.key, digest: null, reason: "" }) : setReason((text) => (text === null ? "" : null))
            }
          >
            {accepted ? "List again" : "Meant so"}
          </Button>
        )}
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
