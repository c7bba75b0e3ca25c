import { Box, Button, FormControlLabel, MenuItem, Switch, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import type { Edit, FieldName } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFields, useRig } from "../../api/patch";
import { useShow } from "../../api/show";
import { blockAt, editOf, type Run, type RunKind, runKinds, wordsOf } from "../../model/runs";
import { taps } from "../../model/taps";

interface Props {
  desk: string | null;
  /** The place that was pointed at last. */
  at: string | null;
  onPreview: (edit: Edit | null) => void;
}

/** What is laid for many slots at once: shown on the loom first, one undo for all of it. */
export function RunsPanel(props: Props) {
  const fields = useFields();
  return fields.data ? <Panel fields={fields.data} {...props} /> : null;
}

function Panel({ desk, fields, at, onPreview }: Props & { fields: FieldName[] }) {
  const rig = useRig();
  const show = useShow();
  // It begins where one has pointed last: at the block of that place.
  const [chosen, setChosen] = useState<Partial<Run>>(() => {
    const begin = blockAt(fields, at, `${desk}/channel`);
    return { ...begin, last: begin.first + 7 };
  });
  const [loose, setLoose] = useState(false);
  const edit = useShowCommand("edits", () => onPreview(null));
  const devices = rig.data?.devices ?? [];
  const computers = devices.filter(({ kind }) => kind === "computer");
  const boxed = devices.filter(({ kind }) => kind === "box" || kind === "desk");
  const rows = (show.data?.rows ?? []).filter((row) => !loose || row.socket === null).map(({ id }) => id);
  const run: Run = {
    kind: "shift",
    desk: desk ?? "",
    field: `${desk}/channel`,
    first: 1,
    last: 8,
    by: 8,
    other: `${desk}/channel`,
    tap: "raw",
    boxes: boxed.filter(({ kind }) => kind === "box").map(({ id }) => id),
    computer: computers[0]?.id ?? "",
    ...chosen,
    rows,
  };
  const takes = runKinds.find(({ key }) => key === run.kind)?.takes;
  const slotted = takes !== "boxes" && takes !== "desk" && takes !== "computer";
  const made = editOf(run);
  const key = JSON.stringify(made);
  const set = (part: Partial<Run>) => setChosen((before) => ({ ...before, ...part }));

  // The loom shows what would be laid while one chooses.
  useEffect(() => {
    onPreview(JSON.parse(key));
    return () => onPreview(null);
  }, [key, onPreview]);

  const choices = fields.filter(({ name }) => name.includes("/")).map(({ name, label }) => ({ key: name, label }));
  const named = (all: typeof devices) => all.map(({ id, name }) => ({ key: id, label: name }));
  return (
    <Box
      component="section"
      aria-label="Many at once"
      sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", px: 2, py: 0.75 }}
    >
      <Pick label="Do" value={run.kind} options={runKinds} onPick={(kind) => set({ kind: kind as RunKind })} />
      {slotted && <Pick label="What is patched" value={run.field} options={choices} onPick={(field) => set({ field })} />}
      {slotted && run.kind !== "copy" && (
        <>
          <Whole label="From" value={run.first} onChange={(first) => set({ first })} />
          <Whole label="To" value={run.last} onChange={(last) => set({ last })} />
        </>
      )}
      {takes === "number" && <Whole label={run.kind === "delay" ? "ms" : "By"} value={run.by} onChange={(by) => set({ by })} />}
      {takes === "field" && <Pick label="Layout of" value={run.other} options={choices} onPick={(other) => set({ other })} />}
      {takes === "tap" && (
        <Pick
          label="Tap"
          value={run.tap}
          options={taps.map((one) => ({ key: one.key, label: `${one.key}: ${one.words}` }))}
          onPick={(tap) => set({ tap })}
        />
      )}
      {takes === "computer" && <Pick label="At" value={run.computer} options={named(computers)} onPick={(computer) => set({ computer })} />}
      {takes === "boxes" && (
        <>
          <TextField
            select
            size="small"
            label="Over"
            value={run.boxes}
            sx={{ minWidth: 110 }}
            slotProps={{ select: { multiple: true } }}
            onChange={(event) => set({ boxes: ([] as string[]).concat(event.target.value) })}
          >
            {boxed.map(({ id, name }) => (
              <MenuItem key={id} value={id}>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            control={<Switch size="small" checked={loose} onChange={(event) => setLoose(event.target.checked)} />}
            label="Only rows that are not plugged in"
            slotProps={{ typography: { sx: { fontSize: 13 } } }}
          />
        </>
      )}
      <Button
        variant="contained"
        size="small"
        onClick={() => edit({ label: wordsOf(run, choices.find(({ key: name }) => name === run.field)?.label ?? run.field), edit: made })}
      >
        Do it
      </Button>
    </Box>
  );
}

interface PickProps {
  label: string;
  value: string;
  options: readonly { key: string; label: string }[];
  onPick: (key: string) => void;
}

const Pick = ({ label, value, options, onPick }: PickProps) => (
  <TextField
    select
    size="small"
    label={label}
    value={options.some(({ key }) => key === value) ? value : ""}
    sx={{ minWidth: 110 }}
    onChange={(event) => onPick(event.target.value)}
  >
    {options.map((one) => (
      <MenuItem key={one.key} value={one.key}>
        {one.label}
      </MenuItem>
    ))}
  </TextField>
);

const Whole = ({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) => (
  <TextField
    size="small"
    type="number"
    label={label}
    value={value}
    sx={{ width: 78 }}
    onChange={(event) => onChange(Math.round(Number(event.target.value)))}
  />
);
