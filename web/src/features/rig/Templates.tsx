import { Box, Button, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api } from "../../api/client";
import { useTemplates } from "../../api/queries";
import { DialogButton } from "../../ui/DialogButton";
import { useNotice } from "../../ui/notice";

/** A rig with its patch, without the show's names: kept, and begun from. */
export function Templates() {
  return <DialogButton title="Templates">{(close) => <Kept onDone={close} />}</DialogButton>;
}

function Kept({ onDone }: { onDone: () => void }) {
  const [name, setName] = useState("");
  const [show, setShow] = useState("");
  /** There is no undo for a template: its button asks once more. */
  const [deleting, setDeleting] = useState<number | null>(null);
  const templates = useTemplates();
  const client = useQueryClient();
  const { say } = useNotice();

  async function act(command: () => Promise<unknown>, done: () => void) {
    try {
      await command();
      await client.invalidateQueries();
      done();
    } catch (error) {
      say(error instanceof ApiError ? error.message : String(error), "error");
    }
  }
  const remove = (id: number) =>
    act(
      () => api.delete(`/api/templates/${id}`),
      () => setDeleting(null),
    );
  return (
    <>
      <Box sx={{ display: "flex", gap: 1, mt: 0.5, mb: 2 }}>
        <TextField
          size="small"
          fullWidth
          label="Keep this rig and its patch as"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button
          variant="contained"
          disabled={!name.trim()}
          onClick={() =>
            act(
              () => api.post("/api/templates", { name }),
              () => setName(""),
            )
          }
        >
          Keep
        </Button>
      </Box>
      {templates.data?.length === 0 && (
        <Typography color="text.secondary">No template is kept yet. Names of sources, songs and scenes stay out of it.</Typography>
      )}
      {(templates.data?.length ?? 0) > 0 && (
        <>
          <Typography sx={{ fontSize: 13.5, mb: 1 }}>
            Starting a show takes the place of this one, with its history; the takes stay. Save the show of now first to come back to it.
          </Typography>
          <TextField size="small" fullWidth label="Name of the new show" value={show} onChange={(event) => setShow(event.target.value)} />
        </>
      )}
      {templates.data?.map((template) => (
        <Box key={template.id} sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1 }}>
          <Box sx={{ flex: 1 }}>{template.name}</Box>
          <Button
            variant="outlined"
            size="small"
            disabled={!show.trim()}
            onClick={() => act(() => api.post(`/api/templates/${template.id}/start`, { name: show }), onDone)}
          >
            Start from it
          </Button>
          <Button
            size="small"
            color="error"
            aria-label={`Delete template ${template.name}`}
            onClick={() => (deleting === template.id ? remove(template.id) : setDeleting(template.id))}
          >
            {deleting === template.id ? "Delete it for good" : "Delete"}
          </Button>
        </Box>
      ))}
    </>
  );
}
