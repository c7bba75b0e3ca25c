import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress, Typography } from "@mui/material";
import { useState } from "react";
import type { Task } from "../api/client";
import { useCommand } from "../api/command";
import { useMay } from "../api/may";
import { useTasks } from "../api/shelf";
import { duration } from "../model/format";

const isOpen = (task: Task) => ["waiting", "running", "stopping"].includes(task.state);

/** What the worker is at, on any page: how far, how long still, and what went wrong. Nothing is shown while there is nothing. */
export function TasksChip() {
  const tasks = useTasks();
  const [open, setOpen] = useState(false);
  const list = tasks.data ?? [];
  const under = list.filter(isOpen);
  const failed = list.filter(({ state }) => state === "failed");
  if (under.length + failed.length === 0 && !open) return null;
  const first = under.find(({ state }) => state === "running") ?? under[0];
  return (
    <>
      <Button
        size="small"
        color={failed.length > 0 ? "error" : "inherit"}
        variant={under.length > 0 || failed.length > 0 ? "outlined" : "text"}
        onClick={() => setOpen(true)}
        data-testid="tasks"
        sx={{ flexShrink: 0, minHeight: 26, py: 0 }}
      >
        {first
          ? `${far(first)}${under.length > 1 ? `, ${under.length - 1} more` : ""}`
          : failed.length > 0
            ? `${failed.length} failed`
            : "done"}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="sm">
        <DialogTitle>What runs in the background</DialogTitle>
        <DialogContent>
          {list.map((task) => (
            <TaskLine key={task.id} task={task} />
          ))}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Close
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** "7 of 40 files, 2 min left". */
function far(task: Task): string {
  if (task.state === "waiting") return "work waits";
  if (task.state === "stopping") return "being stopped";
  const of = task.of ? `${task.done} of ${task.of} ${task.unit}` : "begun";
  return task.left_s === null ? of : `${of}, ${duration(task.left_s)} left`;
}

function TaskLine({ task }: { task: Task }) {
  const stop = useCommand(`/api/tasks/${task.id}/stop`, "tasks");
  const again = useCommand(`/api/tasks/${task.id}/again`, "tasks");
  const seen = useCommand(`/api/tasks/${task.id}/seen`, "tasks");
  const operates = useMay("operate");
  const words = { waiting: "waits", running: far(task), stopping: "is being stopped", stopped: "stopped", failed: "failed", done: "done" };
  return (
    <Box data-task={task.id} data-state={task.state} sx={{ py: 1, borderBottom: 1, borderColor: "divider" }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Typography sx={{ flex: 1 }}>{task.subject}</Typography>
        <Typography color={task.state === "failed" ? "error.main" : "text.secondary"} sx={{ fontSize: 13 }}>
          {words[task.state]}
        </Typography>
        {!operates ? null : isOpen(task) ? (
          <Button size="small" color="error" disabled={task.state === "stopping"} onClick={() => stop.mutate({})}>
            Stop
          </Button>
        ) : (
          <>
            {task.state === "failed" && (
              <Button size="small" variant="outlined" onClick={() => again.mutate({})}>
                Try again
              </Button>
            )}
            <Button size="small" color="inherit" onClick={() => seen.mutate({})}>
              Seen
            </Button>
          </>
        )}
      </Box>
      {task.state === "running" && task.of !== null && (
        <LinearProgress variant="determinate" value={(100 * task.done) / Math.max(task.of, 1)} aria-label={task.subject} />
      )}
      {task.state === "failed" && (
        <Alert severity="error" sx={{ py: 0, mt: 0.5 }}>
          {task.words}
        </Alert>
      )}
    </Box>
  );
}
