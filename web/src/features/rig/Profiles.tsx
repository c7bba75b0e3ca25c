import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
} from "@mui/material";
import { useState } from "react";
import { ApiError, api, type Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useShowPath } from "../../api/openShow";
import { Choice } from "./fields";

/** The parts of a profile that a form shows; what else it has goes along unchanged. */
interface ProfileData {
  name: string;
  label: string;
  families: { name: string; label: string; count: number; present?: number; kind: string }[];
  fields: { family: string; block: number; opens: boolean; takes: string[]; delay_max_ms: number }[];
  [rest: string]: unknown;
}

/** Own profiles: copy one that ships, change its numbers, use it, delete it. */
export function Profiles({ rig }: { rig: Rig }) {
  const [open, setOpen] = useState(false);
  const [from, setFrom] = useState("");
  const [data, setData] = useState<ProfileData | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [asData, setAsData] = useState(false);
  const edit = useShowCommand("edits", () => setData(null));
  const path = useShowPath();
  const own = rig.profiles.filter((profile) => profile.own);

  async function load(name: string, copy: boolean) {
    try {
      const found = await api.get<ProfileData>(path(`profiles/${encodeURIComponent(name)}`));
      setFault(null);
      setData(copy ? { ...found, name: freeName(name), label: `Own ${found.label}` } : found);
    } catch (error) {
      setFault(error instanceof ApiError ? error.message : String(error));
    }
  }
  function freeName(name: string): string {
    let n = 1;
    while (rig.profiles.some((profile) => profile.name === `own-${name}-${n}`)) n += 1;
    return `own-${name}-${n}`;
  }
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        Profiles
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="md">
        <DialogTitle>{data ? `Profile ${data.name}` : "Profiles"}</DialogTitle>
        <DialogContent>
          {fault && <Alert severity="error">{fault}</Alert>}
          {data && asData ? (
            <ProfileText data={data} onChange={setData} />
          ) : data ? (
            <ProfileForm data={data} onChange={setData} />
          ) : (
            <>
              <Choice
                label="Copy this one"
                value={from}
                options={rig.profiles.map((profile) => ({ value: profile.name, label: profile.label }))}
                onChoose={setFrom}
              />
              <Button disabled={!from} variant="outlined" size="small" onClick={() => load(from, true)}>
                Copy and change it
              </Button>
              <Box sx={{ mt: 2 }}>
                {own.length === 0 && "There are no own profiles in this show yet."}
                {own.map((profile) => (
                  <Box key={profile.name} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
                    <Box sx={{ flex: 1 }}>{profile.label}</Box>
                    <Button size="small" onClick={() => load(profile.name, false)}>
                      Change
                    </Button>
                    <Button
                      size="small"
                      color="error"
                      onClick={() =>
                        edit({ label: `Delete profile ${profile.label}`, edit: { kind: "profile", name: profile.name, data: null } })
                      }
                    >
                      Delete
                    </Button>
                  </Box>
                ))}
              </Box>
            </>
          )}
        </DialogContent>
        <DialogActions>
          {data && (
            <Button color="inherit" sx={{ mr: "auto" }} onClick={() => setAsData((now) => !now)}>
              {asData ? "As a form" : "All of it as data: taps, ports, wires"}
            </Button>
          )}
          <Button color="inherit" onClick={() => (data ? setData(null) : setOpen(false))}>
            {data ? "Leave it as it was" : "Close"}
          </Button>
          {data && (
            <Button
              variant="contained"
              onClick={() => edit({ label: `Profile ${data.label}`, edit: { kind: "profile", name: data.name, data } })}
            >
              Keep it
            </Button>
          )}
        </DialogActions>
      </Dialog>
    </>
  );
}

/** A profile as it stands in its file, for what the form has no field for. */
function ProfileText({ data, onChange }: { data: ProfileData; onChange: (data: ProfileData) => void }) {
  const [text, setText] = useState(() => JSON.stringify(data, null, 1));
  const [fault, setFault] = useState<string | null>(null);
  function write(value: string) {
    setText(value);
    try {
      onChange(JSON.parse(value) as ProfileData);
      setFault(null);
    } catch (error) {
      setFault(`This is no whole JSON yet: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
  return (
    <TextField
      multiline
      fullWidth
      minRows={20}
      margin="dense"
      label="Profile as JSON"
      value={text}
      error={fault !== null}
      helperText={fault ?? "What is wrong with it is said when it is kept."}
      slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: "monospace", fontSize: 12.5 } } }}
      onChange={(event) => write(event.target.value)}
    />
  );
}

function ProfileForm({ data, onChange }: { data: ProfileData; onChange: (data: ProfileData) => void }) {
  const family = (at: number, fields: object) =>
    onChange({ ...data, families: data.families.map((one, i) => (i === at ? { ...one, ...fields } : one)) });
  const field = (name: string, fields: object) =>
    onChange({ ...data, fields: data.fields.map((one) => (one.family === name ? { ...one, ...fields } : one)) });
  return (
    <>
      <TextField
        fullWidth
        margin="dense"
        size="small"
        label="Label"
        value={data.label}
        onChange={(event) => onChange({ ...data, label: event.target.value })}
      />
      <Table size="small">
        <TableHead>
          <TableRow>
            {["Places", "How many", "Really there", "Patched in blocks of", "Delay to, ms"].map((title) => (
              <TableCell key={title}>{title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {data.families.map((one, at) => {
            const slots = data.fields.find((candidate) => candidate.family === one.name);
            return (
              <TableRow key={one.name}>
                <TableCell>{one.label}</TableCell>
                <TableCell>
                  <Numeric label={`${one.label}: how many`} value={one.count} onChange={(count) => family(at, { count })} />
                </TableCell>
                <TableCell>
                  <Numeric
                    label={`${one.label}: really there`}
                    value={one.present ?? one.count}
                    onChange={(present) => family(at, { present })}
                  />
                </TableCell>
                <TableCell>
                  {slots && <Numeric label={`${one.label}: block`} value={slots.block} onChange={(block) => field(one.name, { block })} />}
                </TableCell>
                <TableCell>
                  {slots && (
                    <Numeric
                      label={`${one.label}: delay`}
                      value={slots.delay_max_ms}
                      onChange={(delay_max_ms) => field(one.name, { delay_max_ms })}
                    />
                  )}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </>
  );
}

const Numeric = ({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) => (
  <TextField
    size="small"
    type="number"
    value={value}
    sx={{ width: 88 }}
    slotProps={{ htmlInput: { "aria-label": label } }}
    onChange={(event) => onChange(Math.round(Number(event.target.value)))}
  />
);
