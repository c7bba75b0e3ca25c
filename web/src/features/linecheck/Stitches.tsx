import { Box } from "@mui/material";
import type { Linecheck, LinecheckRow } from "../../api/client";
import { counted, countedWords } from "../../model/linecheck";

/** How far the check is: a seam with a stitch a source, told apart by form as well as by colour. */
export function Stitches({ check }: { check: Linecheck }) {
  return (
    <Box
      role="img"
      aria-label={countedWords(counted(check.rows))}
      sx={{ display: "flex", flexWrap: "wrap", gap: "3px", mt: 2, alignItems: "center" }}
    >
      {check.rows.map((row) => (
        <Box key={row.id} sx={{ width: 14, height: 14, display: "grid", placeItems: "center" }}>
          <Box
            sx={{
              ...SHAPES[row.state],
              ...(row.id === check.turn ? { outline: 2, outlineOffset: "2px", outlineColor: "text.primary" } : {}),
            }}
          />
        </Box>
      ))}
    </Box>
  );
}

const SHAPES: Record<LinecheckRow["state"], object> = {
  fine: { width: 12, height: 4, bgcolor: "success.main", borderRadius: 2 },
  wrong: { width: 10, height: 10, bgcolor: "error.main", transform: "rotate(45deg)" },
  skipped: { width: 12, height: 4, border: 1, borderColor: "text.secondary", borderStyle: "dashed" },
  open: { width: 4, height: 4, bgcolor: "text.secondary", borderRadius: "50%" },
  again: { width: 8, height: 8, border: 2, borderColor: "warning.main", borderRadius: "50%" },
};
