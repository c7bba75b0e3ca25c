import { Box, Button, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, api } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { useTemplates } from "../../api/shelf";
import { DialogButton } from "../../ui/DialogButton";
import { May } from "../../ui/May";
import { useNotice } from "../../ui/notice";

/** A rig with its patch, without the show's names: kept, to begin other shows with. */
export function Templates() {
  return <DialogButton title="Templates">{() => <Kept />}</DialogButton>;
}

function Kept() {
  const [name, setName] = useState("");
  /** There is no undo for a template: its button asks once more. */
  const [deleting, setDeleting] = useState<number | null>(null);
  const templates = useTemplates();
  const path = useShowPath();
  const client = useQueryClient();
  const { say } = useNotice();

  async function act(command: () => Promise<unknown>, done: () => void) {
    try {
      await command();
      await client.invalidateQueries({ queryKey: ["templates"] });
      done();
    } catch (error) {
      say(error instanceof ApiError ? error.message : String(error), "error");
    }
  }
  const remove = (id: number) =>
    act(
      () => api.delete(`/api/library/templates/${id}`),
      () => setDeleting(null),
    );
  const keep = () =>
    act(
      () => api.post(path("template"), { name }),
      () => setName(""),
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
        <Button variant="contained" disabled={!name.trim()} onClick={keep}>
          Keep
        </Button>
      </Box>
      <Typography color="text.secondary" sx={{ fontSize: 13.5 }}>
        {templates.data?.length === 0
          ? "No template is kept yet. Names of sources, songs and scenes stay out of it."
          : "A new show, on the page of all shows, begins with one of these."}
      </Typography>
      {templates.data?.map((template) => (
        <Box key={template.id} sx={{ display: "flex", gap: 1, alignItems: "center", mt: 1 }}>
          <Box sx={{ flex: 1 }}>{template.name}</Box>
          <May what="lead">
            <Button
              size="small"
              color="error"
              aria-label={`Delete template ${template.name}`}
              onClick={() => (deleting === template.id ? remove(template.id) : setDeleting(template.id))}
            >
              {deleting === template.id ? "Delete it for good" : "Delete"}
            </Button>
          </May>
        </Box>
      ))}
    </>
  );
}
