import { Alert, Box, Button, Paper, Typography } from "@mui/material";
import type { Linecheck, LinecheckRow } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useLinecheckCommand } from "../../api/stage";
import { decibels } from "../../model/format";
import { onLane } from "../../model/levelOf";
import { before, counted, latest, turnOf } from "../../model/linecheck";
import { May } from "../../ui/May";
import { Meter, MeterNumber } from "../../ui/Meter";
import { Crossing } from "./Crossing";
import { Stitches } from "./Stitches";

/** What to tap now, what came of it, and what to do about it: readable at arm's length on a dark stage. */
export function Prompt({ check }: { check: Linecheck }) {
  const row = turnOf(check);
  const last = latest(check);
  return (
    <Paper variant="outlined" sx={{ p: 2, mb: 1.5 }}>
      {row ? <Turn check={check} row={row} /> : <Done check={check} />}
      {last?.verdict && check.listening && (
        // Where anybody may come this is what whoever taps has to look at.
        <Typography color={check.free ? "text.primary" : "text.secondary"} sx={{ mt: 1.5, fontSize: check.free ? 22 : 14 }}>
          {check.free ? "Heard" : "Before"}: {last.number} {last.name}. {last.verdict.said[0]}
          {last.verdict.peak_dbfs !== null && ` ${decibels(last.verdict.peak_dbfs)} dBFS.`}
        </Typography>
      )}
      <Stitches check={check} />
    </Paper>
  );
}

function Turn({ check, row }: { check: Linecheck; row: LinecheckRow }) {
  return (
    <>
      <Typography color="text.secondary" sx={{ fontSize: 16 }}>
        {check.free ? "Any source may come; on the list it is the turn of" : check.listening ? "Tap or scratch" : "Next"}
      </Typography>
      <Typography component="h3" data-testid="turn" sx={{ fontSize: 34, lineHeight: 1.15, fontWeight: 750, overflowWrap: "anywhere" }}>
        {row.number} {row.name}
      </Typography>
      <Typography color="text.secondary" sx={{ fontSize: 16, mb: 1 }}>
        {row.socket ?? "plugged in nowhere"}
        {row.lanes.length > 0 ? ` · lane ${row.lanes.join(" and ")}` : " · on no lane"}
      </Typography>
      {row.lanes[0] !== undefined && <Level lane={row.lanes[0]} name={row.name} />}
      <Box aria-live="assertive" data-testid="found">
        {row.verdict ? <Found check={check} row={row} /> : <Waiting check={check} row={row} />}
      </Box>
      <Steps check={check} row={row} />
    </>
  );
}

function Level({ lane, name }: { lane: number; name: string }) {
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1 }}>
      <Meter of={onLane(lane)} label={`${name} level now`} height={16} />
      <Box sx={{ width: 52, textAlign: "right" }}>
        <MeterNumber of={onLane(lane)} />
      </Box>
    </Box>
  );
}

function Waiting({ check, row }: { check: Linecheck; row: LinecheckRow }) {
  if (!check.listening) return null;
  return (
    <Typography sx={{ fontSize: 16, color: "text.secondary" }}>
      {row.state === "again" && "Its patch was changed since it was proved. "}
      {check.ear.ready === false ? "Listening to the quiet stage first…" : "Listening…"}
    </Typography>
  );
}

/** What was found wrong with the source whose turn it is: in words, in a picture where two are swapped, with what to do. */
function Found({ check, row }: { check: Linecheck; row: LinecheckRow }) {
  const act = useLinecheckCommand();
  const mend = useShowCommand("linecheck/mend");
  const verdict = row.verdict;
  if (!verdict) return null;
  const other = check.rows.find(({ id }) => id === verdict.other);
  const [first, ...rest] = verdict.said;
  const again = [row.id, ...(other ? [other.id] : [])];
  return (
    <>
      <Typography sx={{ fontSize: 24, fontWeight: 700, color: row.state === "wrong" ? "error.main" : "text.primary" }}>{first}</Typography>
      {rest.map((words) => (
        <Typography key={words} sx={{ fontSize: 16, mb: 0.5 }}>
          {words}
        </Typography>
      ))}
      {check.since && (
        <Alert severity="warning" sx={{ my: 1 }}>
          {check.since}
        </Alert>
      )}
      {other && verdict.lane !== null && <Crossing row={row} other={other} />}
      <May what="stage">
        <Box sx={{ display: "grid", gap: 1, mt: 1.5 }}>
          <Button variant="contained" size="large" onClick={() => act.mutate({ do: "again", rows: again })}>
            {verdict.place === "elsewhere" ? "The plugs are put right: hear it again" : "Hear it again"}
          </Button>
          {verdict.mend?.label && (
            <May what="operate">
              <Button variant="outlined" size="large" onClick={() => mend({ row: row.id })}>
                {verdict.mend.label}
              </Button>
            </May>
          )}
          {verdict.mend?.why && <Typography color="text.secondary">{verdict.mend.why}</Typography>}
        </Box>
      </May>
    </>
  );
}

function Steps({ check, row }: { check: Linecheck; row: LinecheckRow }) {
  const act = useLinecheckCommand();
  const back = before(check);
  return (
    <May what="stage">
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1, mt: 1.5 }}>
        {check.listening && !row.verdict && (
          <Button variant="outlined" sx={{ gridColumn: "1 / -1" }} onClick={() => act.mutate({ do: "nothing", row: row.id })}>
            I tapped it: nothing arrived
          </Button>
        )}
        <Button onClick={() => back && act.mutate({ do: "turn", row: back })}>Back</Button>
        <Button onClick={() => act.mutate({ do: "skip", row: row.id })}>{row.state === "wrong" ? "Leave it, go on" : "Skip"}</Button>
      </Box>
    </May>
  );
}

function Done({ check }: { check: Linecheck }) {
  const { fine, wrong, skipped } = counted(check.rows);
  return (
    <>
      <Typography component="h3" sx={{ fontSize: 26, fontWeight: 700 }}>
        {fine === check.rows.length ? `All ${fine} are proved.` : check.listening ? "Nobody is left whose turn it is." : "Not begun"}
      </Typography>
      <Typography color="text.secondary" sx={{ fontSize: 16 }}>
        {fine === check.rows.length
          ? "Every source came in at its own place. A change of its patch opens it again."
          : wrong + skipped > 0
            ? "Choose one in the list to hear it again."
            : "Begin, and walk the stage: each source is tapped once, and what arrives is heard and named here."}
      </Typography>
    </>
  );
}
