import { Alert, Box, Typography } from "@mui/material";
import { useMemo } from "react";
import type { Row, Show, Track } from "../../api/client";
import { useFrame, useLevels } from "../../api/live";
import { decibels, numberOf } from "../../model/format";
import { Meter, MeterScale } from "../../ui/Meter";
import { StepHead } from "../../ui/StepHead";
import { Swatch } from "../../ui/Swatch";
import { useWidth } from "../../ui/useWidth";

/** Levels in the order of the input list, for whoever walks the stage with a list or a phone. */
export function LineCheckView({ show }: { show: Show }) {
  const phone = useWidth() === "phone";
  const tracks = useMemo(() => new Map(show.tracks.filter(({ lane }) => lane !== null).map((track) => [track.row, track])), [show.tracks]);
  const lanes = show.rows.flatMap(({ id }) => tracks.get(id)?.lane ?? []);
  const byDesk = show.rows.some(({ id, channels }) => !tracks.has(id) && channels.length > 0);
  useLevels({ lanes, desk: byDesk });
  return (
    <>
      <StepHead
        title="Line check"
        hint="Levels in list order: scratch or tap each source on the stage and see here that it comes in at its own line, and nowhere else."
      />
      <Box sx={{ flex: 1, overflow: "auto", px: phone ? 1.25 : 2, pb: 1 }}>
        <Alert severity="info" sx={{ mb: 1, py: 0 }}>
          A guided check is to come here: one prompt at a time, what arrived, where and how loud, and a list of what is proved. So far this
          page only shows levels; nothing is proved by it.
        </Alert>
        {show.rows.length === 0 && (
          <Typography color="text.secondary">The input list is empty. Write it on Patch, under Input list.</Typography>
        )}
        {show.rows.length > 0 && (
          <Box sx={{ display: "grid", gridTemplateColumns: columns(phone), gap: 1 }}>
            <Box sx={{ gridColumn: phone ? "2 / 3" : "2 / 4" }} />
            <MeterScale />
          </Box>
        )}
        <Box role="list" aria-label="Sources in list order">
          {show.rows.map((row) => (
            <SourceRow
              key={row.id}
              row={row}
              track={tracks.get(row.id)}
              metered={show.desks[0]?.id}
              phone={phone}
              tall={phone || show.rows.length <= FEW}
            />
          ))}
        </Box>
      </Box>
    </>
  );
}

/** So few sources have room for tall lines on any page. */
const FEW = 14;

/** Colour, source, where it is plugged in (on a phone under its name), level, the figure. */
const columns = (phone: boolean) => (phone ? "6px minmax(110px, 1fr) minmax(100px, 1fr) 52px" : "6px 200px 190px 1fr 64px");

interface Props {
  row: Row;
  /** The track that takes it, with a lane. */
  track: Track | undefined;
  /** The desk that sends levels. */
  metered: string | undefined;
  phone: boolean;
  tall: boolean;
}

/** The level at the card where a lane carries it, else at its channel; "no level" where neither is heard. */
function SourceRow({ row, track, metered, phone, tall }: Props) {
  const lane = track?.lane ?? null;
  const own = row.channels.find((id) => id.startsWith(`${metered}/`));
  const channel = own === undefined ? null : numberOf(own);
  const known = lane !== null || channel !== null;
  const peak = useFrame((frame) =>
    lane !== null ? (frame.meters?.peak_dbfs[lane - 1] ?? -150) : channel !== null ? (frame.desk.peaks?.[channel - 1] ?? -150) : -150,
  );
  return (
    <Box
      role="listitem"
      data-row={row.id}
      sx={{
        display: "grid",
        gridTemplateColumns: columns(phone),
        gap: 1,
        alignItems: "center",
        minHeight: tall ? 44 : 26,
        borderBottom: tall ? 1 : 0,
        borderColor: "divider",
        fontSize: 14,
      }}
    >
      <Swatch colour={row.colour} stitch={row.stitch} />
      <Box sx={{ minWidth: 0, ...CUT }}>
        {row.number} {row.name}
        {phone && <Box sx={{ color: "text.secondary", fontSize: 12.5, ...CUT }}>{row.socket_label ?? "plugged in nowhere"}</Box>}
      </Box>
      {!phone && <Box sx={{ color: "text.secondary", ...CUT }}>{row.socket_label ?? "plugged in nowhere"}</Box>}
      {known ? <Meter peakDbfs={peak} label={`${row.name} level`} height={tall ? 14 : 10} /> : <span />}
      <Box sx={{ textAlign: "right", color: known ? "text.primary" : "text.secondary", fontSize: 13 }}>
        {known ? decibels(peak) : "no level"}
      </Box>
    </Box>
  );
}

const CUT = { overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" } as const;
