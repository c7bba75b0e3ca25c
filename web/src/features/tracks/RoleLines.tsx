import { Box, Button, Checkbox, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type LibraryRole, type RoleTable, type Song } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useRoles } from "../../api/library";
import { dbWords, FOLDS_DB, type FoldLaw, laid, laneNumber, laneWords, type RoleLine, roleEndpoint, unusual } from "../../model/roles";
import { Figure } from "../../ui/KeptField";
import { useNotice } from "../../ui/notice";
import { LanesField } from "./LanesField";

/** A line for each role; what is otherwise than usual, and otherwise in one song, stands in it. */
export function RoleLines({ table, songs }: { table: RoleTable; songs: Song[] }) {
  const library = useRoles();
  const client = useQueryClient();
  const { say } = useNotice();
  const settle = useMutation({
    mutationFn: ({ name, ...given }: Partial<LibraryRole> & { name: string }) =>
      api.put<LibraryRole[]>(`/api/library/roles/${name}`, given),
    onSuccess: (all) => client.setQueryData(["library", "roles"], all),
    onError: (error) => say(error.message, "error"),
  });
  return (
    <Table size="small" aria-label="Roles" sx={{ "& td": { verticalAlign: "top" } }}>
      <TableHead>
        <TableRow>
          <TableCell>Role</TableCell>
          <TableCell>Audience</TableCell>
          <TableCell>Wants</TableCell>
          <TableCell>On lanes, left and right</TableCell>
          <TableCell>Level, dB</TableCell>
          <TableCell>Two sides on one</TableCell>
          <TableCell>Otherwise</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {table.roles.map((line) => (
          <Line
            key={line.name}
            line={line}
            table={table}
            songs={songs}
            known={library.data?.find(({ name }) => name === line.name)}
            onSettle={(given) => settle.mutate({ name: line.name, ...given })}
          />
        ))}
      </TableBody>
    </Table>
  );
}

interface LineProps {
  line: RoleLine;
  table: RoleTable;
  songs: Song[];
  known: LibraryRole | undefined;
  onSettle: (given: Partial<Omit<LibraryRole, "name">>) => void;
}

function Line({ line, table, songs, known, onSettle }: LineProps) {
  const edit = useShowCommand("edits");
  const { name } = line;
  const otherwise = unusual(line);
  const here = line.lanes.map(laneNumber);
  const usual = {
    ...(here.length > 0 && { usual: here }),
    gain_db: line.gain_db,
    fold_db: line.fold_db,
  };
  const settled = otherwise.length === 0 && (here.length === 0 || line.usual_lanes.length > 0);
  return (
    <TableRow>
      <TableCell>
        <Box sx={{ pt: 1.25, fontWeight: 600 }}>{name}</Box>
        {known && !known.settled && <Box sx={{ color: "warning.main", fontSize: 12.5 }}>new with a song; say what it is</Box>}
        {line.mixes.length > 0 && (
          <Box sx={{ color: "text.secondary", fontSize: 12.5 }}>
            in{" "}
            {table.mixes
              .filter(({ id }) => line.mixes.includes(id))
              .map((mix) => mix.name)
              .join(", ")}
          </Box>
        )}
      </TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>
        <Checkbox
          size="small"
          checked={known?.hidden ?? line.hidden}
          onChange={(_, hidden) => onSettle({ hidden })}
          slotProps={{ input: { "aria-label": `The audience never hears ${name}` } }}
        />
        never
      </TableCell>
      <TableCell>
        <TextField
          select
          size="small"
          value={known?.lanes ?? (line.pair ? "pair" : "own")}
          onChange={({ target }) => onSettle({ lanes: target.value === "pair" ? "pair" : "own" })}
          slotProps={{ htmlInput: { "aria-label": `Lanes of ${name}` } }}
        >
          <MenuItem value="own">one lane</MenuItem>
          <MenuItem value="pair">two</MenuItem>
        </TextField>
      </TableCell>
      <TableCell>
        <LanesField
          label={`${name} on lanes`}
          lanes={table.lanes}
          value={line.lanes}
          self={roleEndpoint(name)}
          onChange={(lanes) =>
            edit({ label: `${name} on ${laneWords(lanes.map(laneNumber))}`, edit: laid(roleEndpoint(name), line.lanes, lanes) })
          }
        />
      </TableCell>
      <TableCell>
        <Figure
          bare
          label={`Level of ${name}, dB`}
          value={line.gain_db}
          least={-60}
          most={12}
          width={76}
          onKeep={(gain_db) => edit({ label: `${name} at ${dbWords(gain_db)}`, edit: { kind: "role_terms", role: name, gain_db } })}
        />
      </TableCell>
      <TableCell>
        <TextField
          select
          size="small"
          value={line.fold_db}
          onChange={({ target }) => {
            const fold_db = Number(target.value) as FoldLaw;
            edit({ label: `${name} folded at ${dbWords(fold_db)}`, edit: { kind: "role_terms", role: name, fold_db } });
          }}
          slotProps={{ htmlInput: { "aria-label": `Law by which two sides of ${name} come on one lane` } }}
        >
          {FOLDS_DB.map((db) => (
            <MenuItem key={db} value={db}>
              {dbWords(db)}
            </MenuItem>
          ))}
        </TextField>
      </TableCell>
      <TableCell sx={{ fontSize: 13 }}>
        {otherwise.length > 0 && <Box sx={{ color: "warning.main" }}>{otherwise.join("; ")}</Box>}
        {line.exceptions.map((one) => (
          <Box key={one.song} sx={{ display: "flex", gap: 0.5, alignItems: "center" }}>
            <span>
              {one.title}:{" "}
              {[one.lanes && laneWords(one.lanes.map(laneNumber)), one.gain_db !== null && dbWords(one.gain_db)].filter(Boolean).join(", ")}
            </span>
            <Button
              size="small"
              color="inherit"
              aria-label={`As in the rest: ${name} in ${one.title}`}
              onClick={() =>
                edit({
                  label: `${name} in ${one.title} as in the rest`,
                  edit: { kind: "role_terms", role: name, song: one.song, gain_db: null, fold_db: null, lanes: null },
                })
              }
            >
              As in the rest
            </Button>
          </Box>
        ))}
        <Box sx={{ display: "flex", gap: 0.5, flexWrap: "wrap", ml: -0.75 }}>
          {!settled && (
            <Button size="small" color="inherit" aria-label={`Keep as usual: ${name}`} onClick={() => onSettle(usual)}>
              Keep as usual
            </Button>
          )}
          <InOneSong line={line} table={table} songs={songs} />
        </Box>
      </TableCell>
    </TableRow>
  );
}

/** What holds for one song of the set list alone. */
function InOneSong({ line, table, songs }: Omit<LineProps, "known" | "onSettle">) {
  const edit = useShowCommand("edits");
  const [open, setOpen] = useState(false);
  const those = songs.filter(({ roles, bpm }) => roles.includes(line.name) || (line.name === "click" && bpm !== null));
  const [chosen, setChosen] = useState("");
  const song = those.find(({ id }) => id === (chosen || those[0]?.id));
  if (!song) return null;
  if (!open)
    return (
      <Button size="small" color="inherit" aria-label={`In one song: ${line.name}`} onClick={() => setOpen(true)}>
        In one song…
      </Button>
    );
  const now = line.exceptions.find((one) => one.song === song.id);
  const keep = (words: string, change: { gain_db?: number; lanes?: string[] | null }) =>
    edit({ label: `${line.name} in ${song.title}: ${words}`, edit: { kind: "role_terms", role: line.name, song: song.id, ...change } });
  return (
    <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", py: 0.5, pl: 0.75 }}>
      <TextField
        select
        size="small"
        value={song.id}
        onChange={({ target }) => setChosen(target.value)}
        slotProps={{ htmlInput: { "aria-label": `Song where ${line.name} is otherwise` } }}
      >
        {those.map(({ id, title }) => (
          <MenuItem key={id} value={id}>
            {title}
          </MenuItem>
        ))}
      </TextField>
      <Figure
        bare
        label={`Level of ${line.name} in ${song.title}, dB`}
        value={now?.gain_db ?? line.gain_db}
        least={-60}
        most={12}
        width={76}
        onKeep={(gain_db) => keep(dbWords(gain_db), { gain_db })}
      />
      <LanesField
        label={`${line.name} in ${song.title} on lanes`}
        lanes={table.lanes}
        value={now?.lanes ?? line.lanes}
        self={roleEndpoint(line.name)}
        onChange={(lanes) => keep(laneWords(lanes.map(laneNumber)), { lanes: lanes.length > 0 ? lanes : null })}
      />
    </Box>
  );
}
