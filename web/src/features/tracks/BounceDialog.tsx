import { Alert, Box, Button, Checkbox, FormControlLabel, LinearProgress, Link, Radio, RadioGroup, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, type Show } from "../../api/client";
import { useBounces } from "../../api/library";
import { ofShow } from "../../api/openShow";
import { useTasks } from "../../api/shelf";
import { weight } from "../../model/format";
import { DialogButton } from "../../ui/DialogButton";
import { useNotice } from "../../ui/notice";

const moment = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });

/** Songs of the set list as files for any player, and what was made of them before. */
export function BounceDialog({ show }: { show: Show }) {
  return (
    <DialogButton title="Bounce" maxWidth="md">
      {() => <Bounce show={show} />}
    </DialogButton>
  );
}

function Bounce({ show }: { show: Show }) {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [oneFile, setOneFile] = useState(false);
  const [task, setTask] = useState<number | null>(null);
  const bounces = useBounces();
  const client = useQueryClient();
  const tasks = useTasks();
  const { say } = useNotice();
  const now = tasks.data?.find(({ id }) => id === task);
  const under = now !== undefined && ["waiting", "running", "stopping"].includes(now.state);
  const songs = show.songs.filter(({ id }) => !left.has(id)).map(({ id }) => id);
  const begin = useMutation({
    mutationFn: () => api.post<{ task: number }>(ofShow(show.id, "bounces"), { songs: left.size === 0 ? null : songs, one_file: oneFile }),
    onSuccess: (answer) => {
      setTask(answer.task);
      client.invalidateQueries({ queryKey: ["tasks"] });
    },
    onError: (error) => say(error.message, "error"),
  });
  const state = now?.state;
  useEffect(() => {
    if (state === "done") client.invalidateQueries({ queryKey: ["show", show.id, "bounces"] });
  }, [state, client, show.id]);
  const choose = (id: string, on: boolean) => {
    const rest = new Set(left);
    if (on) rest.delete(id);
    else rest.add(id);
    setLeft(rest);
  };
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      <Typography variant="body2" color="text.secondary">
        Every lane with its stems, click and count-in, as the set list has the song. What has not changed since the last time stays as it
        is.
      </Typography>
      <Box component="ul" aria-label="Songs to bounce" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {show.songs.map(({ id, title }) => {
          const made = bounces.data?.find(({ song }) => song === id);
          const over = Object.entries(made?.clipped ?? {});
          return (
            <Box component="li" key={id} sx={{ borderBottom: 1, borderColor: "divider", py: 0.5 }}>
              <FormControlLabel
                control={<Checkbox size="small" checked={!left.has(id)} onChange={(_, on) => choose(id, on)} />}
                label={title}
              />
              {made && (
                <Box sx={{ pl: 3.75, fontSize: 13 }}>
                  <Box sx={{ color: "text.secondary" }}>
                    {moment.format(new Date(made.at))}, in {made.folder}
                  </Box>
                  <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2 }}>
                    {made.files.map((file) => (
                      <Link key={file.name} href={ofShow(show.id, `bounces/${encodeURIComponent(id)}/${encodeURIComponent(file.name)}`)}>
                        {file.name} ({weight(file.bytes)})
                      </Link>
                    ))}
                  </Box>
                  {over.length > 0 && (
                    <Box sx={{ color: "warning.main" }}>
                      Cut off at full scale: {over.map(([lane, samples]) => `${lane}, ${samples} samples`).join("; ")}
                    </Box>
                  )}
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      <RadioGroup row value={oneFile ? "one" : "lanes"} onChange={(_, value) => setOneFile(value === "one")} aria-label="Files">
        <FormControlLabel value="lanes" control={<Radio size="small" />} label="One file a lane" />
        <FormControlLabel value="one" control={<Radio size="small" />} label="One file of many channels" />
      </RadioGroup>
      {now && (
        <Alert severity={state === "failed" ? "error" : state === "done" ? "success" : "info"}>
          {state === "running" && now.of ? `${now.done} of ${now.of} songs` : now.words || now.subject}
          {under && <LinearProgress sx={{ mt: 0.5 }} />}
        </Alert>
      )}
      <Button variant="contained" disabled={under || songs.length === 0} onClick={() => begin.mutate()} sx={{ justifySelf: "start" }}>
        {left.size === 0 ? "Bounce the whole set" : `Bounce ${songs.length === 1 ? "one song" : `${songs.length} songs`}`}
      </Button>
    </Box>
  );
}
