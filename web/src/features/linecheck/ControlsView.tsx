import VolumeOffIcon from "@mui/icons-material/VolumeOff";
import { Alert, Box, Slider, TextField, ToggleButton, Typography } from "@mui/material";
import { type ReactNode, useState } from "react";
import type { DeskControl, Show } from "../../api/client";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useControlCommand, useControls } from "../../api/stage";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";

const COLUMNS = {
  phone: "minmax(0, 1fr) 76px 48px",
  beside: "minmax(0, 1.2fr) minmax(0, 0.8fr) 96px minmax(0, 2fr) 96px 52px",
} as const;
/** The way of the slider; what lies below is as good as closed, and typed. */
const FADER_DB = { min: -60, max: 10 };

/** Preamps, faders and mutes as the desk has them, moved from here over its control line. */
export function ControlsView({ show, head }: { show: Show; head: ReactNode }) {
  const answers = useFrame((frame) => frame.desk.answers);
  const controls = useControls(show.on_air && answers);
  const phone = useWidth() === "phone";
  const columns = phone ? COLUMNS.phone : COLUMNS.beside;
  return (
    <>
      <StepHead title="Line check" hint="At the desk: what is moved here moves there, and the other way round.">
        {head}
      </StepHead>
      <Box sx={{ flex: 1, overflow: "auto", px: phone ? 1.25 : 2, pb: 1 }}>
        {!show.on_air ? (
          <Typography color="text.secondary">The desk is another show's. Put this one on air first.</Typography>
        ) : !answers || controls.error ? (
          <Alert severity="info">
            {controls.error?.message ?? "The desk's control line does not answer: its controls are moved there."}
          </Alert>
        ) : (
          <>
            <Box sx={{ display: "grid", gridTemplateColumns: columns, gap: 1, fontSize: 12.5, color: "text.secondary", mb: 0.5 }}>
              <span>Source</span>
              {!phone && <span>Channel</span>}
              {!phone && <span>Preamp dB</span>}
              {!phone && <span>Fader</span>}
              <span>Fader dB</span>
              <span>Mute</span>
            </Box>
            {controls.data?.map((one) => (
              <ControlLine key={one.row} one={one} columns={columns} phone={phone} />
            ))}
          </>
        )}
      </Box>
    </>
  );
}

function ControlLine({ one, columns, phone }: { one: DeskControl; columns: string; phone: boolean }) {
  const turn = useControlCommand();
  const may = useMay("operate");
  const [held, setHeld] = useState<number | null>(null);
  const fader = held ?? one.fader_db;
  return (
    <Box
      data-row={one.row}
      sx={{
        display: "grid",
        gridTemplateColumns: columns,
        gap: 1,
        alignItems: "center",
        minHeight: 48,
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        {one.number} {one.name}
      </Box>
      {!phone && <Box sx={{ color: "text.secondary" }}>{one.channel_label ?? "no channel"}</Box>}
      {!phone && (
        <Decibels
          name={`Preamp of ${one.name}, dB`}
          value={one.gain_db}
          off={!may}
          onKeep={(gain_db) => turn.mutate({ row: one.row, gain_db })}
        />
      )}
      {!phone && (
        <Slider
          size="small"
          aria-label={`Fader of ${one.name}`}
          disabled={!may || fader === null}
          {...FADER_DB}
          step={0.5}
          value={Math.max(FADER_DB.min, fader ?? FADER_DB.min)}
          onChange={(_, value) => setHeld(Number(value))}
          onChangeCommitted={(_, value) => turn.mutate({ row: one.row, fader_db: Number(value) }, { onSettled: () => setHeld(null) })}
        />
      )}
      <Decibels name={`Fader of ${one.name}, dB`} value={fader} off={!may} onKeep={(fader_db) => turn.mutate({ row: one.row, fader_db })} />
      <ToggleButton
        value="mute"
        selected={one.muted}
        disabled={!may || one.channel === null}
        color="error"
        aria-label={`Mute ${one.name}`}
        onChange={() => turn.mutate({ row: one.row, muted: !one.muted })}
        sx={{ width: 44, height: 44 }}
      >
        <VolumeOffIcon fontSize="small" />
      </ToggleButton>
    </Box>
  );
}

function Decibels({ name, value, off, onKeep }: { name: string; value: number | null; off: boolean; onKeep: (db: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const db = typed === null ? null : Number(typed.replace(",", ".").replace("−", "-"));
  const keep = () => {
    if (db !== null && Number.isFinite(db) && typed?.trim() !== "") onKeep(db);
    setTyped(null);
  };
  if (value === null) return <Box sx={{ color: "text.secondary" }}>–</Box>;
  return (
    <TextField
      size="small"
      disabled={off}
      value={typed ?? String(value)}
      error={db !== null && !Number.isFinite(db)}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => (key === "Enter" ? keep() : key === "Escape" && setTyped(null))}
      slotProps={{ htmlInput: { "aria-label": name, inputMode: "decimal" } }}
    />
  );
}
