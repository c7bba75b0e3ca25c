import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel, Switch, Typography } from "@mui/material";
import { useState } from "react";
import { ApiError, api, type RowsPlan } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useShowPath } from "../../api/openShow";
import { FileButton } from "../../ui/FileButton";

const separators: Record<string, string> = { ",": "commas", ";": "semicolons", "\t": "tabs" };

/** Brings an input list in: what each column was taken for, what will change, every fault; nothing before it is accepted. */
export function ReadCsv() {
  const [file, setFile] = useState<File | null>(null);
  const [replace, setReplace] = useState(false);
  const [plan, setPlan] = useState<RowsPlan | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const close = () => {
    setFile(null);
    setPlan(null);
    setFault(null);
  };
  const edit = useShowCommand("edits", close);
  const path = useShowPath();

  async function read(chosen: File | undefined, whole: boolean) {
    if (!chosen) return;
    setFile(chosen);
    setReplace(whole);
    setFault(null);
    try {
      setPlan(await api.send<RowsPlan>(path(`rows/read?replace=${whole}`), await chosen.arrayBuffer(), "text/csv"));
    } catch (error) {
      setPlan(null);
      setFault(error instanceof ApiError ? error.message : String(error));
    }
  }
  return (
    <>
      <FileButton files="CSV file" accept=".csv,.tsv,.txt,text/csv" size="small" color="inherit" onFiles={([file]) => read(file, replace)}>
        Bring in a CSV file
      </FileButton>
      <Dialog open={file !== null} onClose={close} fullWidth maxWidth="sm">
        <DialogTitle>{file?.name}</DialogTitle>
        <DialogContent>
          {fault && <Alert severity="error">{fault}</Alert>}
          {plan && <PlanText plan={plan} />}
          <FormControlLabel
            control={<Switch checked={replace} onChange={(event) => read(file ?? undefined, event.target.checked)} />}
            label="Take out rows that the file does not have"
          />
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={close}>
            Leave it
          </Button>
          <Button
            variant="contained"
            disabled={!plan?.edit || plan.changes.length === 0}
            onClick={() => plan?.edit && edit({ label: `Input list from ${file?.name}`.slice(0, 200), edit: plan.edit })}
          >
            Accept {plan?.changes.length ?? 0} changes
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

function PlanText({ plan }: { plan: RowsPlan }) {
  return (
    <>
      <Typography color="text.secondary" sx={{ fontSize: 13, mb: 1 }}>
        Read as {plan.encoding} with {separators[plan.separator] ?? plan.separator}.
      </Typography>
      <Typography sx={{ fontSize: 13, mb: 1 }}>
        {plan.columns.map((one) => `"${one.heading}" ${one.column ? `is the ${one.column}` : "is left out"}`).join(", ")}.
      </Typography>
      {plan.faults.length > 0 && (
        <Alert severity="error" sx={{ mb: 1 }}>
          Nothing can be taken in until these are mended:
          {plan.faults.slice(0, 30).map((one) => (
            <div key={`${one.line}${one.column}${one.message}`}>
              {one.line ? `Line ${one.line}` : "The list"}, {one.column}: {one.message}
            </div>
          ))}
        </Alert>
      )}
      {plan.faults.length === 0 && plan.changes.length === 0 && <Typography>It says just what the list says already.</Typography>}
      {plan.changes.slice(0, 40).map((change) => (
        <Typography key={change} sx={{ fontSize: 13 }}>
          {change}
        </Typography>
      ))}
      {plan.changes.length > 40 && <Typography sx={{ fontSize: 13 }}>and {plan.changes.length - 40} more</Typography>}
    </>
  );
}
