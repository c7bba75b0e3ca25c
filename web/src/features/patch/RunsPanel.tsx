import { Box, Button, FormControlLabel, MenuItem, Switch, TextField } from "@mui/material";
import { useEffect, useState } from "react";
import type { FieldName } from "../../api/client";
import { useFields, useRig, useShow, useShowCommand } from "../../api/queries";
import { blockAt, slotsOf } from "../../model/runs";
import { taps } from "../../model/taps";

const kinds = [
  { key: "shift", label: "Move by", takes: "number" },
  { key: "reverse", label: "Turn round", takes: "none" },
  { key: "swap", label: "Swap first and last", takes: "none" },
  { key: "copy", label: "Follow the layout of", takes: "field" },
  { key: "tap", label: "Take at tap", takes: "tap" },
  { key: "delay", label: "Delay by ms", takes: "number" },
  { key: "free", label: "Free these slots", takes: "none" },
  { key: "open", label: "Open the block to single choices", takes: "none" },
  { key: "close", label: "Close the block again", takes: "none" },
  { key: "soundcheck", label: "All lanes as for the soundcheck: raw", takes: "desk" },
  { key: "mix", label: "All lanes as in the mix: post-fader", takes: "desk" },
  { key: "tracks", label: "Make tracks of what arrives", takes: "computer" },
  { key: "spread", label: "Spread rows over boxes", takes: "boxes" },
] as const;
type Kind = (typeof kinds)[number]["key"];

interface Props {
  desk: string | null;
  /** The place that was pointed at last. */
  at: string | null;
  onPreview: (edit: object | null) => void;
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
  const [begin] = useState(() => blockAt(fields, at, `${desk}/channel`));
  const [kind, setKind] = useState<Kind>("shift");
  const [field, setField] = useState(begin.field);
  const [first, setFirst] = useState(begin.first);
  const [last, setLast] = useState(begin.first + 7);
  const [by, setBy] = useState(8);
  const [other, setOther] = useState(`${desk}/channel`);
  const [tap, setTap] = useState("raw");
  const [boxes, setBoxes] = useState<string[] | null>(null);
  const [computer, setComputer] = useState("");
  const [loose, setLoose] = useState(false);
  const edit = useShowCommand("/api/edits", () => onPreview(null));
  const takes = kinds.find((one) => one.key === kind)?.takes;
  const slotted = takes !== "boxes" && takes !== "desk" && takes !== "computer";
  const computers = (rig.data?.devices ?? []).filter((device) => device.kind === "computer");
  const chosenComputer = computers.find(({ id }) => id === computer)?.id ?? computers[0]?.id ?? "";
  const boxed = (rig.data?.devices ?? []).filter((device) => device.kind === "box" || device.kind === "desk");
  const chosenBoxes = boxes ?? boxed.filter((device) => device.kind === "box").map(({ id }) => id);
  const made = editFor();
  const key = JSON.stringify(made);

  // The loom shows what would be laid while one chooses.
  useEffect(() => {
    onPreview(JSON.parse(key));
    return () => onPreview(null);
  }, [key, onPreview]);

  function editFor(): object {
    const slots = slotsOf(field, first, last);
    switch (kind) {
      case "shift":
        return { kind, slots, by };
      case "reverse":
        return { kind, slots };
      case "swap":
        return { kind, one: slots[0], other: slots[slots.length - 1] };
      case "copy":
        return { kind: "copy_layout", from_field: other, to_field: field };
      case "tap":
        return { kind: "retake", slots, tap };
      case "delay":
        return { kind: "retake", slots, delay_ms: by };
      case "free":
        return { kind: "lay", takes: Object.fromEntries(slots.map((slot) => [slot, null])) };
      case "open":
      case "close":
        return { kind: "open_block", slot: slots[0], open: kind === "open" };
      case "soundcheck":
      case "mix":
        return { kind: "record_taps", desk: desk ?? "", purpose: kind };
      case "tracks":
        return { kind: "make_tracks", computer: chosenComputer };
      case "spread":
        return {
          kind,
          rows: (show.data?.rows ?? []).filter((row) => !loose || row.socket === null).map(({ id }) => id),
          boxes: chosenBoxes,
        };
    }
  }

  const choices = fields.filter(({ name }) => name.includes("/"));
  const small = { size: "small" as const, sx: { minWidth: 110 } };
  return (
    <Box component="section" aria-label="Runs" sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", px: 2, py: 0.75 }}>
      <TextField select {...small} label="Do" value={kind} onChange={(event) => setKind(event.target.value as Kind)}>
        {kinds.map((one) => (
          <MenuItem key={one.key} value={one.key}>
            {one.label}
          </MenuItem>
        ))}
      </TextField>
      {slotted && (
        <TextField
          select
          {...small}
          label="Slots of"
          value={choices.some(({ name }) => name === field) ? field : ""}
          onChange={(event) => setField(event.target.value)}
        >
          {choices.map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.label}
            </MenuItem>
          ))}
        </TextField>
      )}
      {slotted && kind !== "copy" && (
        <>
          <Whole label="From" value={first} onChange={setFirst} />
          <Whole label="To" value={last} onChange={setLast} />
        </>
      )}
      {takes === "number" && <Whole label={kind === "delay" ? "ms" : "By"} value={by} onChange={setBy} />}
      {takes === "field" && (
        <TextField select {...small} label="Layout of" value={other} onChange={(event) => setOther(event.target.value)}>
          {choices.map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.label}
            </MenuItem>
          ))}
        </TextField>
      )}
      {takes === "tap" && (
        <TextField select {...small} label="Tap" value={tap} onChange={(event) => setTap(event.target.value)}>
          {taps.map((one) => (
            <MenuItem key={one.key} value={one.key}>
              {one.key}: {one.words}
            </MenuItem>
          ))}
        </TextField>
      )}
      {takes === "computer" && (
        <TextField select {...small} label="At" value={chosenComputer} onChange={(event) => setComputer(event.target.value)}>
          {computers.map((device) => (
            <MenuItem key={device.id} value={device.id}>
              {device.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {takes === "boxes" && (
        <>
          <TextField
            select
            {...small}
            label="Over"
            value={chosenBoxes}
            slotProps={{ select: { multiple: true } }}
            onChange={(event) => setBoxes(([] as string[]).concat(event.target.value))}
          >
            {boxed.map((device) => (
              <MenuItem key={device.id} value={device.id}>
                {device.name}
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
      <Button variant="contained" size="small" onClick={() => edit({ label: kinds.find((one) => one.key === kind)?.label, edit: made })}>
        Lay it
      </Button>
    </Box>
  );
}

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
