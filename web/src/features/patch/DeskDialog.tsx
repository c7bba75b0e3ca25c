import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useCommand } from "../../api/command";
import { useShowCommand } from "../../api/edits";
import { useMay } from "../../api/may";
import { useDesk } from "../../api/show";
import { useDeskLine } from "../../ui/useDeskLine";
import { ChangeList } from "./ChangeList";

/**
 * Plan against desk: what differs, pushed to the desk or pulled from it, whole or by field, always after it was
 * shown. Its button says how the two stand.
 */
export function DeskDialog({ answers }: { answers: boolean }) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<string[]>([]);
  const desk = useDesk();
  const push = useCommand("desk/push");
  const pull = useShowCommand("desk/pull");
  const [line, setLine] = useDeskLine();
  const operates = useMay("operate");
  const count = desk.data?.count ?? 0;
  // A tick does not outlive its field: what was done is no longer in the list.
  const ticked = chosen.filter((name) => desk.data?.fields.some((field) => field.name === name));
  const fields = ticked.length > 0 ? ticked : null;
  return (
    <>
      <Button
        size="small"
        variant={answers && count > 0 ? "outlined" : "text"}
        color={!answers && line ? "error" : count > 0 ? "warning" : "inherit"}
        title={count > 0 ? desk.data?.changes.map((one) => one.words).join("; ") : "Plan and desk"}
        onClick={() => setOpen(true)}
      >
        {!answers ? (line ? "desk ✕" : "no desk line") : count > 0 ? `Desk differs in ${count}` : "desk ✓"}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="sm">
        <DialogTitle>Plan and desk</DialogTitle>
        <DialogContent>
          {!answers && (
            <Alert
              severity={line ? "error" : "info"}
              action={
                <Button color="inherit" size="small" onClick={() => setLine(!line)}>
                  {line ? "This desk has none" : "It has one"}
                </Button>
              }
            >
              {line ? "The desk does not answer. It gets the plan as soon as it does." : "This desk has no control line: set it by hand."}
            </Alert>
          )}
          {desk.data?.fault && <Alert severity="warning">The desk did not follow the last edit: {desk.data.fault}.</Alert>}
          {!answers && count === 0 ? (
            <Typography sx={{ mt: 1 }}>What the desk has is not known.</Typography>
          ) : count === 0 ? (
            <Typography>The desk has what the plan says.</Typography>
          ) : (
            <>
              <Typography color="text.secondary" sx={{ fontSize: 13, mb: 1 }}>
                What the desk has, and before it what the plan says. Tick fields to push or pull only those.
              </Typography>
              <ChangeList changes={desk.data?.changes ?? []} labels={desk.data?.fields ?? []} chosen={ticked} onChoose={setChosen} />
            </>
          )}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setOpen(false)}>
            Close
          </Button>
          {operates && (
            <Button variant="outlined" disabled={count === 0} onClick={() => pull({ fields })}>
              Pull {fields ? "what is ticked" : "all"} into the plan
            </Button>
          )}
          {operates && (
            <Button variant="contained" disabled={count === 0} onClick={() => push.mutate({ fields })}>
              Push {fields ? "what is ticked" : "all"} to the desk
            </Button>
          )}
        </DialogActions>
      </Dialog>
    </>
  );
}
