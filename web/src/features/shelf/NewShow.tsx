import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api, type ListedShow } from "../../api/client";
import { useTemplates } from "../../api/shelf";
import { slug } from "../../model/format";
import { FileButton } from "../../ui/FileButton";

/** Makes a show: from nothing, from a template, as a copy, or from a show file. */
export function NewShow({ copies }: { copies: ListedShow[] }) {
  const [open, setOpen] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const made = useMade();
  async function read(file: File | undefined) {
    if (!file) return;
    setFault(null);
    try {
      const text = await file.text();
      await made(await api.send<{ id: number }>("/api/shows/file", text, "application/json"), "");
    } catch (error) {
      setFault(`${file.name}: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
  return (
    <>
      <Button variant="contained" size="small" onClick={() => setOpen(true)}>
        New show
      </Button>
      <FileButton files="Show file" accept=".json" size="small" color="inherit" onFiles={([file]) => read(file)}>
        From a show file
      </FileButton>
      {open && <About copies={copies} onClose={() => setOpen(false)} />}
      <Dialog open={fault !== null} onClose={() => setFault(null)}>
        <DialogTitle>This file makes no show</DialogTitle>
        <DialogContent>
          <Alert severity="error">{fault}</Alert>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setFault(null)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** Goes to a show that has just been made. */
function useMade() {
  const navigate = useNavigate();
  const client = useQueryClient();
  return async ({ id }: { id: number }, name: string) => {
    await client.invalidateQueries({ queryKey: ["shelf"] });
    navigate(`/shows/${slug(id, name)}/rig`);
  };
}

const NOTHING = "nothing";

function About({ copies, onClose }: { copies: ListedShow[]; onClose: () => void }) {
  const templates = useTemplates();
  const [from, setFrom] = useState(NOTHING);
  const [about, setAbout] = useState({ name: "", venue: "", date: "" });
  const [fault, setFault] = useState<string | null>(null);
  const made = useMade();
  const write = (field: keyof typeof about) => ({
    value: about[field],
    onChange: ({ target }: { target: { value: string } }) => setAbout({ ...about, [field]: target.value }),
  });
  async function make(event: FormEvent) {
    event.preventDefault();
    const [kind, id] = from.split("/");
    try {
      await made(await api.post<{ id: number }>("/api/shows", { ...about, ...(kind && id ? { [kind]: Number(id) } : {}) }), about.name);
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>New show</DialogTitle>
      <Box component="form" onSubmit={make}>
        <DialogContent sx={{ display: "flex", flexDirection: "column", gap: 1.5, "&&": { pt: 1 } }}>
          <TextField size="small" autoFocus required label="Name" {...write("name")} />
          <TextField size="small" label="Venue" {...write("venue")} />
          <TextField size="small" label="Plays on" type="date" slotProps={{ inputLabel: { shrink: true } }} {...write("date")} />
          <TextField size="small" select label="Begins with" value={from} onChange={({ target }) => setFrom(target.value)}>
            <MenuItem value={NOTHING}>nothing</MenuItem>
            {templates.data?.map(({ id, name }) => (
              <MenuItem key={`template/${id}`} value={`template/${id}`}>
                the template {name}
              </MenuItem>
            ))}
            {copies.map(({ id, name }) => (
              <MenuItem key={`copy/${id}`} value={`copy/${id}`}>
                a copy of {name}
              </MenuItem>
            ))}
          </TextField>
          {fault && <Alert severity="error">{fault}</Alert>}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>
            Leave it
          </Button>
          <Button type="submit" variant="contained" disabled={!about.name.trim()}>
            Make it
          </Button>
        </DialogActions>
      </Box>
    </Dialog>
  );
}
