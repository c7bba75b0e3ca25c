import { Box, Button, ListSubheader, Menu, MenuItem, Select, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { useState } from "react";
import type { ImportPlan } from "../../api/client";
import { parts } from "../../model/importLoom";
import { StartField } from "../../ui/StartField";

const LEFT_OUT = "";

interface Props {
  plan: ImportPlan;
  convert: boolean;
  chosen: Record<string, string>;
  /** Channels of files about which there is no doubt any more. */
  sure: ReadonlySet<string>;
  onChoose: (key: string, track: string) => void;
  rateHz: number;
  /** Frames after the take's beginning, by the file's number. */
  starts: Record<number, number>;
  onStart: (file: number, frames: number) => void;
  /** Has the ear find when a file begins, by another that heard the same. */
  onListen: (file: number, like: number) => void;
}

/** Which file goes to which track. */
export function MatchTable({ plan, convert, chosen, sure, onChoose, rateHz, starts, onStart, onListen }: Props) {
  return (
    <Table size="small" sx={{ mt: 1 }}>
      <TableHead>
        <TableRow>
          <TableCell>File</TableCell>
          <TableCell>Holds</TableCell>
          <TableCell>Goes to track</TableCell>
          <TableCell>Because</TableCell>
          <TableCell>Begins at</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {parts(plan).map((part) => (
          <TableRow key={part.key}>
            <TableCell>
              {part.of.title}
              {(part.of.holds?.channels ?? 1) > 1 ? `, channel ${part.channel}` : ""}
              {part.of.holds?.names?.[part.channel - 1] ? `, ${part.of.holds.names[part.channel - 1]}` : ""}
            </TableCell>
            <TableCell>
              <Holds file={part.of} odd={plan.rate_faults.includes(part.of.number)} convert={convert} />
            </TableCell>
            <TableCell>
              <Select
                size="small"
                displayEmpty
                value={chosen[part.key] ?? LEFT_OUT}
                onChange={(event) => onChoose(part.key, event.target.value)}
                inputProps={{ "aria-label": `Track for ${part.of.title}` }}
              >
                <MenuItem value={LEFT_OUT}>
                  <em>left out</em>
                </MenuItem>
                {plan.tracks.map((track) => (
                  <MenuItem key={track.id} value={track.id}>
                    {track.name}
                  </MenuItem>
                ))}
              </Select>
            </TableCell>
            <TableCell>
              <Because
                plan={plan}
                file={part.of.number}
                channel={part.channel}
                track={chosen[part.key] ?? LEFT_OUT}
                sure={sure.has(part.key)}
              />
            </TableCell>
            <TableCell>
              {part.channel === 1 && (
                <Box sx={{ display: "flex", alignItems: "center" }}>
                  <StartField
                    name={part.of.title}
                    frames={starts[part.of.number] ?? 0}
                    rateHz={rateHz}
                    onStart={(frames) => onStart(part.of.number, frames)}
                  />
                  <ByEar plan={plan} file={part.of} onListen={(like) => onListen(part.of.number, like)} />
                </Box>
              )}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** Why it goes there by itself; where that is not sure, it says so until somebody has chosen. */
function Because({ plan, file, channel, track, sure }: { plan: ImportPlan; file: number; channel: number; track: string; sure: boolean }) {
  const found = plan.matched.find((one) => one.file === file && one.channel === channel);
  if (track !== LEFT_OUT && found?.track !== track) return <>chosen by hand</>;
  if (track === LEFT_OUT) return <>{plan.loose.find((one) => one.file === file && one.channel === channel)?.why ?? "left out by hand"}</>;
  return sure ? found?.why : <Box sx={{ color: "warning.main" }}>{found?.why}: is it so?</Box>;
}

/** Which other file heard the same as this one: then the ear finds when it began. */
function ByEar({ plan, file, onListen }: { plan: ImportPlan; file: ImportPlan["files"][number]; onListen: (like: number) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const others = plan.files.filter((one) => one.number !== file.number && one.holds?.sample_rate_hz === file.holds?.sample_rate_hz);
  if (others.length === 0) return null;
  return (
    <>
      <Button
        size="small"
        color="inherit"
        aria-label={`${file.title}: begin by ear`}
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        By ear
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <ListSubheader>What heard the same?</ListSubheader>
        {others.map((other) => (
          <MenuItem
            key={other.number}
            onClick={() => {
              setAnchor(null);
              onListen(other.number);
            }}
          >
            {other.title}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function Holds({ file, odd, convert }: { file: ImportPlan["files"][number]; odd: boolean; convert: boolean }) {
  if (!file.holds) return null;
  const { bits, encoding, sample_rate_hz, frames, warnings } = file.holds;
  return (
    <>
      {bits} bit {encoding}, {sample_rate_hz / 1000} kHz, {(frames / sample_rate_hz).toFixed(1)} s
      {odd && (
        <Box sx={{ color: convert ? "text.secondary" : "warning.main" }}>{convert ? "will be converted" : "not at the show's rate"}</Box>
      )}
      {warnings.map((warning) => (
        <Box key={warning} sx={{ color: "warning.main" }}>
          {warning}
        </Box>
      ))}
    </>
  );
}
