import { Alert, Button, Typography } from "@mui/material";
import type { Cable, EditOf, Rig } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { lanesText, portName } from "../../model/rig";
import { Choice, KeptText } from "./fields";

/** One cable: what it is, how long, how many of its lanes are in use. */
export function CablePanel({ rig, cable, onClose }: { rig: Rig; cable: Cable; onClose: () => void }) {
  const edit = useShowCommand("edits");
  const remove = useShowCommand("edits", onClose);
  const { a, b } = cable;
  const change = (fields: Partial<EditOf<"cable">>) =>
    edit({
      label: "Settings of a cable",
      edit: {
        kind: "cable",
        a,
        b,
        cable_kind: cable.kind,
        length_m: cable.length_m,
        offset_a_to_b: cable.offset_a_to_b,
        offset_b_to_a: cable.offset_b_to_a,
        lanes: cable.lines,
        ...fields,
      },
    });
  const kinds = [...new Set([...cable.kinds, cable.kind])].filter(Boolean).map((kind) => ({ value: kind, label: kind }));
  return (
    <>
      <Typography component="h3" variant="h2">
        {cable.standard}
      </Typography>
      <Typography color="text.secondary" sx={{ fontSize: 13, mb: 1 }}>
        {portName(rig, a)} to {portName(rig, b)}: {lanesText(cable)} lanes in use
      </Typography>
      <Typography sx={{ fontSize: 12.5 }}>
        {cable.lanes_by_khz[48]} lanes at 44.1 and 48 kHz, {cable.lanes_by_khz[96] === 0 ? "none" : cable.lanes_by_khz[96]} at 88.2 and 96
        kHz
      </Typography>
      {cable.lost > 0 && <Alert severity="error">{cable.lost} lanes in use have no room on it.</Alert>}
      <Choice label="Kind" value={cable.kind} options={kinds} onChoose={(kind) => change({ cable_kind: kind })} />
      <KeptText
        label={`Length in m (good for ${cable.length_max_m})`}
        type="number"
        value={cable.length_m}
        onKeep={(length) => change({ length_m: Number(length) })}
      />
      {cable.standard.includes("line") && (
        <KeptText
          label="Line 1 goes behind socket"
          type="number"
          value={cable.offset_a_to_b}
          onKeep={(offset) => change({ offset_a_to_b: Number(offset) })}
        />
      )}
      <Button
        size="small"
        color="error"
        variant="outlined"
        sx={{ mt: 1.5 }}
        onClick={() => remove({ label: "Pull a cable", edit: { kind: "remove_cable", a, b } })}
      >
        Pull it out
      </Button>
    </>
  );
}
