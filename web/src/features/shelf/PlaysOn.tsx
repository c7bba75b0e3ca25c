import { Box, Button, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type ListedShow } from "../../api/client";
import { useMay } from "../../api/may";
import { useNotice } from "../../ui/notice";

const day = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

/** The day that a show plays on; a click opens it for writing. */
export function PlaysOn({ show }: { show: ListedShow }) {
  const operates = useMay("operate");
  const [typed, setTyped] = useState<string | null>(null);
  const client = useQueryClient();
  const { say } = useNotice();
  const write = useMutation({
    mutationFn: (date: string) =>
      api.post(`/api/shows/${show.id}/edits`, {
        version: show.version,
        label: `Plays on: ${date || "no day"}`,
        edit: { kind: "about", date },
      }),
    onError: (error) => say(error.message, "error"),
    onSettled: () => client.invalidateQueries({ queryKey: ["shelf"] }),
  });
  const leave = (keep: boolean) => {
    if (keep && typed !== null && typed !== show.date) write.mutate(typed);
    setTyped(null);
  };
  if (typed !== null)
    return (
      <TextField
        size="small"
        type="date"
        autoFocus
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={() => leave(true)}
        onKeyDown={({ key }) => (key === "Enter" ? leave(true) : key === "Escape" && leave(false))}
        slotProps={{ htmlInput: { "aria-label": `Day on which ${show.name} plays` } }}
      />
    );
  const words = show.date ? day.format(new Date(`${show.date}T12:00:00`)) : "no day yet";
  if (!operates) return <Box sx={{ color: show.date ? "text.primary" : "text.secondary" }}>{words}</Box>;
  return (
    <Button
      size="small"
      color="inherit"
      disabled={show.place === "bin"}
      aria-label={`${show.name} plays on: ${words}`}
      onClick={() => setTyped(show.date)}
      sx={{ fontWeight: 400, p: 0, minWidth: 0, color: show.date ? "text.primary" : "text.secondary" }}
    >
      {words}
    </Button>
  );
}
