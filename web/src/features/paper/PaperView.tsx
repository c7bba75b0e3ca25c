import {
  Alert,
  Box,
  Button,
  FormControlLabel,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { Fragment, useState } from "react";
import type { Paper } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { usePaper } from "../../api/show";
import { BottomSheet } from "../../ui/BottomSheet";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";

const kinds = [
  { key: "inputs", label: "Input list" },
  { key: "boxes", label: "Inputs by box" },
  { key: "mixes", label: "Mixes and sends" },
  { key: "outputs", label: "Outputs by box" },
  { key: "tracks", label: "Card and tracks" },
  { key: "setlist", label: "Set list" },
  { key: "labels", label: "Labels for boxes" },
  { key: "linecheck", label: "Line check" },
];

/** The patch sheets as they will print, and every sheet as a file. */
export function PaperView() {
  const paper = usePaper();
  const path = useShowPath();
  const [size, setSize] = useState("A4");
  const [wanted, setWanted] = useState<string[]>(kinds.map((kind) => kind.key));
  const sheets = paper.data?.sheets.filter((sheet) => wanted.includes(sheet.key)) ?? [];
  const phone = useWidth() === "phone";
  const [choosing, setChoosing] = useState(false);
  const choice = (
    <>
      {kinds.map((kind) => (
        <Box key={kind.key} sx={{ mb: 0.5 }}>
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={wanted.includes(kind.key)}
                onChange={(event) => setWanted(event.target.checked ? [...wanted, kind.key] : wanted.filter((one) => one !== kind.key))}
              />
            }
            label={kind.label}
          />
          {paper.data?.sheets
            .filter((sheet) => sheet.key === kind.key)
            .map((sheet) => (
              <Button
                key={sheet.file}
                size="small"
                color="inherit"
                sx={{ display: "block", ml: 4 }}
                href={path(`paper/${sheet.file}`)}
                download
              >
                {sheet.file}
              </Button>
            ))}
        </Box>
      ))}
    </>
  );
  return (
    <>
      <StepHead title="Paper">
        {phone && (
          <Button variant="outlined" color="inherit" onClick={() => setChoosing(true)}>
            Sheets
          </Button>
        )}
        <ToggleButtonGroup
          size="small"
          exclusive
          value={size}
          onChange={(_, value: string | null) => value && setSize(value)}
          aria-label="Paper size"
        >
          <ToggleButton value="A4">A4</ToggleButton>
          <ToggleButton value="Letter">Letter</ToggleButton>
        </ToggleButtonGroup>
        <Button
          variant="contained"
          size="small"
          disabled={sheets.length === 0}
          href={path(`paper.pdf?size=${size}&sheets=${wanted.join(",")}`)}
          target="_blank"
          rel="noreferrer"
        >
          Open as PDF
        </Button>
        {phone && (
          <BottomSheet title="Sheets" open={choosing} onClose={() => setChoosing(false)}>
            {choice}
          </BottomSheet>
        )}
        {paper.data && (
          <Typography color="text.secondary" sx={{ fontSize: 13 }}>
            {paper.data.heading.scene}, patch {paper.data.heading.checksum}: a sheet with another number is an old one.
          </Typography>
        )}
      </StepHead>
      {paper.error && <Alert severity="error">{paper.error.message}</Alert>}
      <Box sx={{ flex: 1, minHeight: 0, display: "flex", gap: 2, px: phone ? 0 : 2, pb: phone ? 0 : 1.5 }}>
        {!phone && (
          <Box component="section" aria-label="Sheets" sx={{ width: 210, flexShrink: 0, overflow: "auto" }}>
            {choice}
          </Box>
        )}
        <Box
          component="section"
          aria-label="Preview"
          tabIndex={0}
          sx={{ flex: 1, overflow: "auto", bgcolor: "#d8d4ca", borderRadius: phone ? 0 : 1, p: phone ? 0.75 : 1.5 }}
        >
          {paper.data && sheets.length === 0 && (
            <Box sx={{ color: "#222" }}>Nothing to print: choose a sheet, or write the input list first.</Box>
          )}
          {paper.data && sheets.map((sheet) => <SheetPaper key={sheet.file} sheet={sheet} heading={paper.data.heading} phone={phone} />)}
        </Box>
      </Box>
    </>
  );
}

/** One sheet, black on white in both themes: that is how it prints. */
function SheetPaper({ sheet, heading, phone }: { sheet: Paper["sheets"][number]; heading: Paper["heading"]; phone: boolean }) {
  return (
    <Box
      sx={{
        bgcolor: "#fff",
        color: "#111",
        maxWidth: 780,
        mx: "auto",
        mb: 2,
        p: phone ? 1.5 : 3,
        "& td, & th": { color: "#111", borderColor: "#999", fontSize: 13, py: 0.35, px: 0.5, lineHeight: 1.35 },
      }}
    >
      <Typography component="h3" sx={{ fontSize: 20, fontWeight: 700, mb: 1 }}>
        {sheet.key === "labels" ? `${sheet.title}: labels` : sheet.title}
      </Typography>
      {sheet.key === "labels" ? <Labels rows={sheet.rows} phone={phone} /> : phone ? <Stacked sheet={sheet} /> : <Lines sheet={sheet} />}
      <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 12, mt: 2 }}>
        <span>{[heading.show, heading.venue, heading.scene].filter(Boolean).join(" · ")}</span>
        <span>patch {heading.checksum}</span>
      </Box>
    </Box>
  );
}

function Lines({ sheet }: { sheet: Paper["sheets"][number] }) {
  return (
    <Table size="small">
      <TableHead>
        <TableRow>
          {sheet.columns.map((column) => (
            <TableCell key={column} sx={{ fontWeight: 700 }}>
              {column}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {sheet.rows.map((row) => (
          <TableRow key={row.join("|")}>
            {row.map((cell, i) => (
              <TableCell
                key={sheet.columns[i]}
                sx={{ fontWeight: i === 1 ? 700 : 400, whiteSpace: /Source|Plugged/.test(sheet.columns[i] ?? "") ? "nowrap" : "normal" }}
              >
                {cell}
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** A sheet where its columns have no room side by side: each line with what it says, column by column. */
function Stacked({ sheet }: { sheet: Paper["sheets"][number] }) {
  const [first = "", second = "", ...others] = sheet.columns;
  return sheet.rows.map(([number, name, ...cells]) => (
    <Box key={[number, name, ...cells].join("|")} sx={{ borderTop: "1px solid #999", py: 0.75, fontSize: 14 }}>
      <strong title={`${first}, ${second}`}>
        {number} {name}
      </strong>
      <Box component="dl" sx={{ m: 0, display: "grid", gridTemplateColumns: "auto 1fr", columnGap: 1, fontSize: 13 }}>
        {others.map(
          (column, at) =>
            cells[at] !== "" && (
              <Fragment key={column}>
                <Box component="dt" sx={{ color: "#555" }}>
                  {column}
                </Box>
                <Box component="dd" sx={{ m: 0 }}>
                  {cells[at]}
                </Box>
              </Fragment>
            ),
        )}
      </Box>
    </Box>
  ));
}

function Labels({ rows, phone }: { rows: Paper["sheets"][number]["rows"]; phone: boolean }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: `repeat(${phone ? 4 : 8}, minmax(0, 1fr))` }}>
      {rows.map(([number, label]) => (
        <Box key={number} sx={{ border: "1px solid #111", textAlign: "center", height: 48, fontSize: 12.5 }}>
          {number}
          <br />
          {label}
        </Box>
      ))}
    </Box>
  );
}
