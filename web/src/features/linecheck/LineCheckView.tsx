import { Alert, Box, Button, FormControlLabel, Switch, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Linecheck, Show } from "../../api/client";
import { useMachine } from "../../api/live";
import { useLinecheck, useLinecheckCommand } from "../../api/stage";
import { counted, countedWords } from "../../model/linecheck";
import { May } from "../../ui/May";
import { StepHead } from "../../ui/StepHead";
import { UndoRedo } from "../../ui/UndoRedo";
import { useWidth } from "../../ui/useWidth";
import { CheckList } from "./CheckList";
import { ControlsView } from "./ControlsView";
import { GainView } from "./GainView";
import { Prompt } from "./Prompt";
import { StageAside } from "./StageAside";

/** One source after the other is tapped on the stage, heard by the ear and proved, the same on every page that looks. */
export function LineCheckView({ show }: { show: Show }) {
  const width = useWidth();
  const [part, setPart] = useState<PartKey>("check");
  const check = useLinecheck().data;
  if (!check) return <StepHead title="Line check" />;
  const beside = width !== "phone";
  if (part === "controls") return <ControlsView show={show} head={<Part part={part} onPart={setPart} />} />;
  if (part === "gain") return <GainView show={show} check={check} head={<Part part={part} onPart={setPart} />} />;
  const parts = [
    <Box key="prompt" sx={beside ? { width: width === "desk" ? 420 : 340, flexShrink: 0, overflow: "auto", pr: 0.5, pb: 1 } : { mb: 2 }}>
      <EarAway check={check} />
      <Hums check={check} />
      <Prompt check={check} />
      <Order check={check} />
      <StageAside check={check} />
    </Box>,
    <Box key="list" sx={beside ? { flex: 1, minWidth: 0, overflow: "auto", pb: 1 } : {}}>
      <CheckList show={show} check={check} />
    </Box>,
  ];
  return (
    <>
      <StepHead title="Line check" hint={check.rows.length > 0 ? countedWords(counted(check.rows)) : ""}>
        <Part part={part} onPart={setPart} />
        <Listening check={check} onAir={show.on_air} />
        <May what="operate">
          <UndoRedo />
        </May>
      </StepHead>
      {show.rows.length === 0 ? (
        <Typography color="text.secondary" sx={{ px: 2 }}>
          The input list is empty. Write it on Patch, under Input list.
        </Typography>
      ) : (
        <Box sx={beside ? { flex: 1, minHeight: 0, display: "flex", gap: 2, px: 2 } : { flex: 1, overflow: "auto", px: 1.25, pb: 1 }}>
          {parts}
        </Box>
      )}
    </>
  );
}

type PartKey = "check" | "gain" | "controls";

/** Who is where, then how loud. */
function Part({ part, onPart }: { part: PartKey; onPart: (part: PartKey) => void }) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={part}
      onChange={(_, key: PartKey | null) => key && onPart(key)}
      aria-label="Check, gain or desk"
    >
      <ToggleButton value="check">Check</ToggleButton>
      <ToggleButton value="gain">Gain</ToggleButton>
      <ToggleButton value="controls">Desk</ToggleButton>
    </ToggleButtonGroup>
  );
}

/** In which order they come, and whether anybody may come next. */
function Order({ check }: { check: Linecheck }) {
  const act = useLinecheckCommand();
  return (
    <May what="stage">
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 1.5 }}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={check.order}
          onChange={(_, order: "list" | "boxes" | null) => order && act.mutate({ do: "order", order })}
          aria-label="Order"
        >
          <ToggleButton value="list">In list order</ToggleButton>
          <ToggleButton value="boxes">Box by box</ToggleButton>
        </ToggleButtonGroup>
        <FormControlLabel
          control={<Switch size="small" checked={check.free} onChange={(event) => act.mutate({ do: "free", on: event.target.checked })} />}
          label="Any source may come next"
        />
        {check.free && (
          <Typography color="text.secondary" sx={{ fontSize: 13, flexBasis: "100%" }}>
            Each tap is taken for what the plan has on its lane. Look at the name: two swapped plugs show only there.
          </Typography>
        )}
      </Box>
    </May>
  );
}

function Listening({ check, onAir }: { check: Linecheck; onAir: boolean }) {
  const act = useLinecheckCommand();
  if (check.rows.length === 0) return null;
  if (!onAir) return <Typography color="text.secondary">Only the show on air can be heard.</Typography>;
  return (
    <May what="stage">
      {check.listening ? (
        <Button onClick={() => act.mutate({ do: "stop" })}>Stop listening</Button>
      ) : (
        <Button variant="contained" onClick={() => act.mutate({ do: "start" })}>
          {counted(check.rows).open === check.rows.length ? "Begin the check" : "Go on with the rest"}
        </Button>
      )}
    </May>
  );
}

/** What keeps taps from being heard. */
function EarAway({ check }: { check: Linecheck }) {
  const runs = useMachine((frame) => frame.engine?.device.state === "running");
  if (!check.listening) return null;
  if (!check.ear.answers)
    return (
      <Alert severity="error" sx={{ mb: 1 }}>
        The ear does not answer: nothing that is tapped is heard. It is started again by itself; levels below go on.
      </Alert>
    );
  if (check.ear.listening === false)
    return (
      <Alert severity="warning" sx={{ mb: 1 }}>
        {runs ? "The ear does not listen yet." : "No audio device runs, so nothing can be heard."}
      </Alert>
    );
  return null;
}

/** Hum that began while the ear listened; it stays until somebody has seen it. */
function Hums({ check }: { check: Linecheck }) {
  const act = useLinecheckCommand();
  if (check.hums.length === 0) return null;
  return (
    <Alert
      severity="warning"
      sx={{ mb: 1 }}
      action={
        <May what="stage">
          <Button size="small" color="inherit" onClick={() => act.mutate({ do: "seen" })}>
            Seen
          </Button>
        </May>
      }
    >
      {check.hums.map(({ lane, said }) => (
        <div key={lane}>{said}</div>
      ))}
    </Alert>
  );
}
