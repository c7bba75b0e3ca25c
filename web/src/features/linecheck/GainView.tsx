import { Alert, Box, Button, MenuItem, TextField } from "@mui/material";
import type { ReactNode } from "react";
import type { Linecheck, LinecheckRow, Show } from "../../api/client";
import { useCommand } from "../../api/command";
import { useMay } from "../../api/may";
import { useLinecheckCommand } from "../../api/stage";
import { decibels } from "../../model/format";
import { onLane } from "../../model/levelOf";
import { signedDb } from "../../model/linecheck";
import { May } from "../../ui/May";
import { Meter, MeterScale } from "../../ui/Meter";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";

interface Props {
  show: Show;
  check: Linecheck;
  /** What leads back to the check. */
  head: ReactNode;
}

const AIMS_DBFS = [-24, -20, -18, -16, -14];

/** How loud each source played in the last minute, how far that is from where it should be, and the preamp's turn to it. */
export function GainView({ show, check, head }: Props) {
  const act = useLinecheckCommand();
  const phone = useWidth() === "phone";
  const columns = phone ? COLUMNS.phone : COLUMNS.beside;
  return (
    <>
      <StepHead title="Line check" hint="Gain: let them play as they will play. The last minute counts, without the pauses.">
        {head}
        <May what="stage">
          <TextField
            select
            size="small"
            label="Aim"
            value={check.aim_dbfs}
            onChange={(event) => act.mutate({ do: "aim", dbfs: Number(event.target.value) })}
          >
            {[...new Set([...AIMS_DBFS, check.aim_dbfs])].map((dbfs) => (
              <MenuItem key={dbfs} value={dbfs}>
                {dbfs} dBFS
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            size="small"
            label="Full scale is"
            value={check.full_scale_dbu}
            onChange={(event) => act.mutate({ do: "aim", full_scale_dbu: Number(event.target.value) === 18 ? 18 : 24 })}
          >
            <MenuItem value={18}>+18 dBu</MenuItem>
            <MenuItem value={24}>+24 dBu</MenuItem>
          </TextField>
          {check.measuring ? (
            <Button onClick={() => act.mutate({ do: "stop" })}>Stop measuring</Button>
          ) : (
            show.on_air && (
              <Button variant="contained" onClick={() => act.mutate({ do: "measure" })}>
                Measure
              </Button>
            )
          )}
        </May>
      </StepHead>
      <Box sx={{ flex: 1, overflow: "auto", px: phone ? 1.25 : 2, pb: 1 }}>
        {check.measuring && !check.ear.answers && (
          <Alert severity="error" sx={{ mb: 1 }}>
            The ear does not answer: nothing is measured. It is started again by itself.
          </Alert>
        )}
        <Box sx={{ display: "grid", gridTemplateColumns: columns, gap: 1, fontSize: 12.5, color: "text.secondary", alignItems: "end" }}>
          <span>Source</span>
          <MeterScale />
          {!phone && <Box sx={END}>Peak</Box>}
          <Box sx={END}>Level</Box>
          {!phone && <Box sx={END}>dBu</Box>}
          {!phone && <Box sx={END}>Preamp</Box>}
          <span>To the aim</span>
        </Box>
        <Box role="list" aria-label="Gains">
          {check.rows.map((row) => (
            <GainLine key={row.id} row={row} columns={columns} phone={phone} measured={check.measuring || check.listening} />
          ))}
        </Box>
      </Box>
    </>
  );
}

const END = { textAlign: "right" } as const;

/** Source, level now, peak, level, the same in dBu, preamp, what to do. */
const COLUMNS = {
  phone: "minmax(0, 1.2fr) minmax(0, 1fr) 48px 88px",
  beside: "minmax(0, 1fr) minmax(0, 1.2fr) 56px 56px 60px 64px 150px",
} as const;

function GainLine({ row, columns, phone, measured }: { row: LinecheckRow; columns: string; phone: boolean; measured: boolean }) {
  const lane = row.lanes[0];
  const gain = row.gain;
  return (
    <Box
      role="listitem"
      data-row={row.id}
      sx={{
        display: "grid",
        gridTemplateColumns: columns,
        gap: 1,
        alignItems: "center",
        minHeight: 44,
        borderBottom: 1,
        borderColor: "divider",
        fontSize: 14,
      }}
    >
      <Box sx={{ minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        {row.number} {row.name}
      </Box>
      {lane === undefined ? (
        <Box sx={{ color: "text.secondary" }}>on no lane</Box>
      ) : (
        <Meter of={onLane(lane)} label={`${row.name} level`} height={14} />
      )}
      {!phone && <Box sx={END}>{gain ? decibels(gain.peak_dbfs) : "–"}</Box>}
      <Box sx={{ ...END, fontWeight: 700 }}>{gain ? decibels(gain.rms_dbfs) : "–"}</Box>
      {!phone && <Box sx={END}>{gain ? decibels(gain.rms_dbu) : "–"}</Box>}
      {!phone && <Box sx={END}>{gain?.preamp_db == null ? "–" : signedDb(gain.preamp_db)}</Box>}
      <Turn row={row} phone={phone} measured={measured} />
    </Box>
  );
}

/** The turn to the aim: by a press where the desk takes it, else in words for whoever stands there. */
function Turn({ row, phone, measured }: { row: LinecheckRow; phone: boolean; measured: boolean }) {
  const turn = useCommand("linecheck/gain");
  const may = useMay("operate");
  const by = row.gain?.turn_db;
  if (by === undefined) return <Box sx={{ color: "text.secondary" }}>{measured ? "not played" : "not measured"}</Box>;
  if (by === 0) return <Box sx={{ color: "success.main" }}>right</Box>;
  if (row.gain?.preamp_db == null || !may) return <Box>{`turn ${signedDb(by)} dB`}</Box>;
  return (
    <Button
      variant="outlined"
      onClick={() => turn.mutate({ row: row.id, by_db: by })}
      aria-label={`Turn the preamp of ${row.name} by ${signedDb(by)} dB`}
    >
      {phone ? "" : "Turn "}
      {signedDb(by)} dB
    </Button>
  );
}
