import { Box, Button, FormControlLabel, Switch } from "@mui/material";
import { useState } from "react";
import type { Show } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { PairsByName } from "./PairsByName";
import { ReadCsv } from "./ReadCsv";
import { Sheet } from "./Sheet";

/** The input list as a sheet, with its file in and out. */
export function SheetView({ show, lit }: { show: Show; lit: string[] }) {
  const [follow, setFollow] = useState(true);
  const path = useShowPath();
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", pb: 0.5, whiteSpace: "nowrap", "& > .MuiButton-root": { flexShrink: 0 } }}>
        <Button size="small" variant="outlined" color="inherit" href={path("rows.csv")} download>
          Save as CSV
        </Button>
        <ReadCsv />
        <PairsByName show={show} />
        <FormControlLabel
          control={<Switch size="small" checked={follow} onChange={(event) => setFollow(event.target.checked)} />}
          label="The patch follows rows that move"
          slotProps={{ typography: { sx: { fontSize: 13 } } }}
        />
        <Box component="span" sx={{ color: "text.secondary", fontSize: 12.5, ml: "auto", overflow: "hidden", textOverflow: "ellipsis" }}>
          Type to write; Enter, Tab and arrows move; Ctrl+D fills down; Alt+↑↓ moves the row
        </Box>
      </Box>
      <Sheet version={show.version} rows={show.rows} sockets={show.sockets} follow={follow} lit={lit} />
    </Box>
  );
}
