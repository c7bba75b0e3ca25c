import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import { Templates } from "./Templates";

/** Saves the show as a file, and opens one in its place. */
export function ShowFile() {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const [fault, setFault] = useState<string | null>(null);

  async function replace() {
    if (!file) return;
    try {
      await api.put("/api/show/file", await file.text(), "application/json");
      await client.invalidateQueries();
      setFile(null);
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
  }

  function choose(chosen: File | undefined) {
    setFault(null);
    setFile(chosen ?? null);
  }

  return (
    <>
      <Button size="small" variant="outlined" color="inherit" href="/api/show/file" download>
        Save the show
      </Button>
      <Button size="small" variant="outlined" color="inherit" component="label">
        Open a show file
        <input type="file" accept=".json" hidden aria-label="Show file" onChange={(event) => choose(event.target.files?.[0])} />
      </Button>
      <Templates />
      <Dialog open={file !== null} onClose={() => setFile(null)}>
        <DialogTitle>Open {file?.name}?</DialogTitle>
        <DialogContent>
          It takes the place of the whole show: gear, input list, patch, songs and the history of edits. The takes stay. To come back to the
          show of now, save it first.
          {fault && (
            <Alert severity="error" sx={{ mt: 1 }}>
              {fault}
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setFile(null)}>
            Leave it
          </Button>
          <Button variant="contained" onClick={replace}>
            Open it in place of this show
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
