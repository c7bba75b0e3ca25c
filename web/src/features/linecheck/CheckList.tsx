import { Box, ButtonBase } from "@mui/material";
import { useMemo } from "react";
import type { Linecheck, LinecheckRow, Row, Show } from "../../api/client";
import { useMay } from "../../api/may";
import { useLinecheckCommand } from "../../api/stage";
import { numberOf } from "../../model/format";
import { atDesk, onLane } from "../../model/levelOf";
import { Meter, MeterNumber, MeterScale } from "../../ui/Meter";
import { Swatch } from "../../ui/Swatch";
import { useWidth } from "../../ui/useWidth";

/** So few sources have room for tall lines on any page. */
const FEW = 14;

const STATES: Record<LinecheckRow["state"], string> = {
  open: "",
  again: "changed since",
  fine: "proved",
  wrong: "to mend",
  skipped: "skipped",
};
const COLOURS: Record<LinecheckRow["state"], string> = {
  open: "text.secondary",
  again: "warning.main",
  fine: "success.main",
  wrong: "error.main",
  skipped: "text.secondary",
};

/** Every source in the order of the check, with its level now and what was found; one that is chosen has its turn. */
export function CheckList({ show, check }: { show: Show; check: Linecheck }) {
  const width = useWidth();
  const phone = width === "phone";
  const rows = useMemo(() => new Map(show.rows.map((row) => [row.id, row])), [show.rows]);
  const columns = phone ? COLUMNS.phone : COLUMNS.beside;
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: columns, gap: 1 }}>
        <Box sx={{ gridColumn: "2 / 3" }} />
        <MeterScale />
      </Box>
      <Box role="list" aria-label="Sources in the order of the check" sx={{ containerType: "inline-size" }}>
        {check.rows.map((one) => (
          <Line
            key={one.id}
            check={check}
            one={one}
            row={rows.get(one.id)}
            metered={show.desks[0]?.id}
            columns={columns}
            tall={phone || check.rows.length <= FEW}
          />
        ))}
      </Box>
    </>
  );
}

/** Colour, source with its socket under it, level, the figure, how it stands. */
const COLUMNS = {
  phone: "6px minmax(0, 1.4fr) minmax(0, 1fr) 48px 74px",
  beside: "6px minmax(0, 1.4fr) minmax(0, 1fr) 48px 96px",
} as const;

interface Props {
  check: Linecheck;
  one: LinecheckRow;
  row: Row | undefined;
  /** The desk that sends levels. */
  metered: string | undefined;
  columns: string;
  tall: boolean;
}

/** The level at the card where a lane carries it, else at its channel; "no level" where neither is heard. */
function Line({ check, one, row, metered, columns, tall }: Props) {
  const act = useLinecheckCommand();
  const may = useMay("stage");
  const lane = one.lanes[0];
  const own = row?.channels.find((id) => id.startsWith(`${metered}/`));
  const channel = own === undefined ? null : numberOf(own);
  const known = lane !== undefined || channel !== null;
  const level = lane === undefined ? atDesk(channel) : onLane(lane);
  const turn = one.id === check.turn;
  const socket = one.socket ?? "plugged in nowhere";
  const words = [STATES[one.state], one.verdict && one.state === "wrong" ? one.verdict.said.join(" ") : ""].filter(Boolean).join(": ");
  return (
    <Box role="listitem" data-row={one.id} data-state={one.state} sx={{ borderBottom: tall ? 1 : 0, borderColor: "divider" }}>
      <ButtonBase
        disabled={!may}
        aria-current={turn ? "step" : undefined}
        onClick={() => act.mutate({ do: "turn", row: one.id })}
        title={words}
        sx={{
          display: "grid",
          gridTemplateColumns: columns,
          gap: 1,
          width: "100%",
          alignItems: "center",
          textAlign: "left",
          justifyContent: "stretch",
          font: "inherit",
          minHeight: tall ? 44 : 24,
          "@media (pointer: coarse), (max-width: 1199.95px)": { minHeight: 44 },
          fontSize: 14,
          // A ground of its own and an edge: the colours of the states keep their contrast on it.
          bgcolor: turn ? "background.paper" : "transparent",
          boxShadow: turn ? "inset 0 0 0 1px currentColor" : "none",
        }}
      >
        <Swatch colour={row?.colour ?? null} stitch={row?.stitch ?? null} />
        <Box sx={{ minWidth: 0, ...(!tall && ONE_LINE) }}>
          <Box sx={{ ...CUT, maxWidth: "100%", fontWeight: turn ? 700 : 400 }}>
            {one.number} {one.name}
          </Box>
          <Box sx={{ color: "text.secondary", fontSize: 12.5, ...(tall ? CUT : BESIDE) }}>{socket}</Box>
        </Box>
        {known ? <Meter of={level} label={`${one.name} level`} height={tall ? 14 : 10} /> : <span />}
        <Box sx={{ textAlign: "right", color: known ? "text.primary" : "text.secondary", fontSize: 13 }}>
          {known ? <MeterNumber of={level} /> : "no level"}
        </Box>
        <Box sx={{ color: COLOURS[one.state], fontSize: 13, ...CUT }}>{STATES[one.state]}</Box>
      </ButtonBase>
    </Box>
  );
}

/** What tells two sides of a pair apart is the end of their names: on one line the socket stands beside it only where all have room. */
const ONE_LINE = { display: "flex", gap: 1, alignItems: "baseline" } as const;
const BESIDE = { whiteSpace: "nowrap", display: "none", "@container (min-width: 560px)": { display: "block" } } as const;
const CUT = { overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" } as const;
