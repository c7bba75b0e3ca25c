import ChevronRight from "@mui/icons-material/ChevronRight";
import { Box, ButtonBase } from "@mui/material";
import type { ReactNode } from "react";
import type { Finding } from "../../api/client";
import { FindingCard } from "./FindingCard";

interface Props {
  /** What the line is about. */
  head: ReactNode;
  findings: Finding[];
  open: boolean;
  onOpen: () => void;
  /** What is told of it before what is found, while it is open. */
  children: ReactNode;
}

/** A line of a list that a finger opens: how much is found at it, and then what, each to be settled there. */
export function FoundLine({ head, findings, open, onOpen, children }: Props) {
  const worst = findings.some(({ severity }) => severity === "stop") ? "error.main" : "warning.main";
  return (
    <>
      <ButtonBase
        onClick={onOpen}
        aria-expanded={open}
        sx={{ width: "100%", minHeight: 44, gap: 1, font: "inherit", fontSize: 14.5, justifyContent: "flex-start", textAlign: "left" }}
      >
        {head}
        {findings.length > 0 && (
          <Box component="span" sx={{ color: worst, fontWeight: 700, fontSize: 13, ml: "auto", flexShrink: 0 }}>
            {findings.length === 1 ? "1 finding" : `${findings.length} findings`}
          </Box>
        )}
        <ChevronRight
          fontSize="small"
          sx={{ ml: findings.length > 0 ? 0 : "auto", transform: open ? "rotate(90deg)" : "none", color: "text.secondary" }}
        />
      </ButtonBase>
      {open && (
        <Box sx={{ pb: 1.25, fontSize: 14 }}>
          {children}
          {findings.map((finding) => (
            <FindingCard key={finding.key} finding={finding} />
          ))}
        </Box>
      )}
    </>
  );
}
