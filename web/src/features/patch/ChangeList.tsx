import { Box, Checkbox, FormControlLabel, Typography } from "@mui/material";
import type { Change } from "../../api/client";

interface Props {
  changes: Change[];
  /** How each field is called. */
  labels: { name: string; label: string }[];
  chosen: string[];
  onChoose: (fields: string[]) => void;
}

/** What differs, by field, in words; fields can be chosen one by one. */
export function ChangeList({ changes, labels, chosen, onChoose }: Props) {
  const fields = [...new Set(changes.map((change) => change.field))];
  if (fields.length === 0) return <Typography color="text.secondary">Nothing differs.</Typography>;
  return fields.map((field) => (
    <Box key={field} sx={{ mb: 1 }}>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={chosen.includes(field)}
            onChange={(event) => onChoose(event.target.checked ? [...chosen, field] : chosen.filter((one) => one !== field))}
          />
        }
        label={labels.find((one) => one.name === field)?.label ?? field}
      />
      {changes
        .filter((change) => change.field === field)
        .slice(0, 60)
        .map((change) => (
          <Typography key={change.place + change.words} sx={{ fontSize: 13, pl: 4 }}>
            {change.words}
          </Typography>
        ))}
    </Box>
  ));
}
