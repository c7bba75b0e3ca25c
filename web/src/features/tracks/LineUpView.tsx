import { Box, Button, Slider, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Lineup, Show } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useLineup, useTick } from "../../api/stage";
import { May } from "../../ui/May";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";

type Lane = Lineup["lines"][number];
const KEY = "lineup/";

/** A signal on one lane after the other, so that every output is found at the desk; what was heard is ticked in hand. */
export function LineUpView({ show }: { show: Show }) {
  const phone = useWidth() === "phone";
  const lineup = useLineup();
  const sound = useCommand("lineup/sound");
  const sounding = useFrame((frame) => {
    const key = frame.deck?.playing?.key;
    return key?.startsWith(KEY) ? key.slice(KEY.length) : null;
  });
  const [kind, setKind] = useState<"spoken" | "beeps">("spoken");
  const [level, setLevel] = useState(-20);
  const lines = lineup.data?.lines ?? [];
  const found = lines.filter(({ tick }) => tick?.right).length;
  const wrong = lines.filter(({ tick }) => tick && !tick.right).length;
  const send = (lane: string | null, more: { kind?: "spoken" | "beeps"; level_dbfs?: number } = {}) =>
    sound.mutate({ lane, kind, level_dbfs: level, ...more });
  const at = lines.findIndex(({ lane }) => lane === sounding);
  const next = [...lines.slice(at + 1), ...lines.slice(0, at + 1)].find(({ tick, lane }) => !tick && lane !== sounding);
  return (
    <>
      <StepHead
        title="Line-up"
        hint={lines.length > 0 ? `${found} of ${lines.length} found${wrong > 0 ? `, ${wrong} elsewhere` : ""}` : ""}
      >
        <Button size="small" variant="outlined" color="inherit" component={Link} to="../tracks" relative="path">
          Back to Tracks
        </Button>
      </StepHead>
      {lineup.data && lines.length === 0 && (
        <Typography color="text.secondary" sx={{ px: 2 }}>
          No role is on a lane yet. Lay them on Tracks, under Roles and lanes.
        </Typography>
      )}
      {lines.length > 0 && show.on_air && (
        <May what="stage">
          <Box sx={{ px: phone ? 1.25 : 2, pb: 1.5, display: "flex", gap: 2, alignItems: "center", flexWrap: "wrap" }}>
            <ToggleButtonGroup
              exclusive
              size="small"
              value={kind}
              aria-label="What is sent"
              onChange={(_, chosen: "spoken" | "beeps" | null) => {
                if (!chosen) return;
                setKind(chosen);
                if (sounding) send(sounding, { kind: chosen });
              }}
            >
              <ToggleButton value="spoken">Number spoken</ToggleButton>
              <ToggleButton value="beeps">In beeps</ToggleButton>
            </ToggleButtonGroup>
            <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flex: "1 1 200px", maxWidth: 320 }}>
              <Slider
                value={level}
                min={-60}
                max={-6}
                onChange={(_, value) => setLevel(value as number)}
                onChangeCommitted={(_, value) => sounding && send(sounding, { level_dbfs: value as number })}
                aria-label="Level of the signal, dBFS"
              />
              <span style={{ whiteSpace: "nowrap" }}>−{Math.abs(level)} dBFS</span>
            </Box>
            <Button
              variant="contained"
              disabled={!next}
              onClick={() => next && send(next.lane)}
              sx={{ minHeight: 44, flex: phone ? "1 1 140px" : undefined }}
            >
              {next ? `Next: lane ${next.number}` : "All are ticked"}
            </Button>
            <Button
              variant="outlined"
              color="inherit"
              disabled={!sounding}
              onClick={() => send(null)}
              sx={{ minHeight: 44, flex: phone ? "1 1 100px" : undefined }}
            >
              Silence
            </Button>
          </Box>
        </May>
      )}
      <Box
        component="ul"
        aria-label="Lanes"
        sx={{ listStyle: "none", m: 0, px: phone ? 1.25 : 2, pb: 2, overflow: "auto", flex: 1, minHeight: 0 }}
      >
        {lines.map((line) => (
          <LaneLine key={line.lane} line={line} on={line.lane === sounding} onAir={show.on_air} onSound={() => send(line.lane)} />
        ))}
      </Box>
    </>
  );
}

function LaneLine({ line, on, onAir, onSound }: { line: Lane; on: boolean; onAir: boolean; onSound: () => void }) {
  const tick = useTick();
  const may = useMay("stage");
  const [where, setWhere] = useState("");
  const [asking, setAsking] = useState(false);
  const say = (right: boolean | null, place = "") => {
    setAsking(false);
    setWhere("");
    tick.mutate({ lane: line.lane, right, where: place });
  };
  const state = !line.tick ? "" : line.tick.right ? "found" : "elsewhere";
  return (
    <Box
      component="li"
      data-lane={line.number}
      aria-label={`Lane ${line.number}${state && `, ${state}`}`}
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 1.5,
        alignItems: "center",
        bgcolor: "background.paper",
        borderRadius: 1,
        p: 1.25,
        mb: 1,
        borderLeft: 5,
        borderLeftStyle: line.private ? "dashed" : "solid",
        borderColor: on ? "primary.main" : state === "found" ? "success.main" : state === "elsewhere" ? "error.main" : "divider",
      }}
    >
      <Typography sx={{ fontSize: 30, fontWeight: 700, width: 58, textAlign: "right", lineHeight: 1 }}>{line.number}</Typography>
      <Box sx={{ flex: "1 1 200px", minWidth: 0 }}>
        <Typography sx={{ fontWeight: 600 }}>
          {line.carries}
          {line.private && (
            <Box component="span" sx={{ color: "text.secondary", fontWeight: 400 }}>
              {" "}
              – never for the audience
            </Box>
          )}
        </Typography>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {line.arrives ?? "In no channel"}
          {line.heard.length > 0 ? `, heard at ${line.heard.join(", ")}` : ", heard by nobody"}
        </Typography>
        {line.tick && (
          <Typography sx={{ fontSize: 13, color: line.tick.right ? "success.main" : "error.main" }}>
            {line.tick.right ? "Found" : `Not here${line.tick.where ? `: ${line.tick.where}` : ""}`}, says {line.tick.who}
          </Typography>
        )}
      </Box>
      {may && (
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
          {onAir && (
            <Button
              variant={on ? "contained" : "outlined"}
              onClick={onSound}
              aria-label={`Sound lane ${line.number}`}
              sx={{ minHeight: 44 }}
            >
              {on ? "Sounding" : "Sound"}
            </Button>
          )}
          <ToggleButton
            value="right"
            selected={state === "found"}
            onChange={() => say(state === "found" ? null : true)}
            aria-label={`Found: lane ${line.number}`}
            sx={{ minHeight: 44, px: 2 }}
          >
            Found
          </ToggleButton>
          <ToggleButton
            value="wrong"
            selected={state === "elsewhere" || asking}
            onChange={() => (state === "elsewhere" ? say(null) : setAsking(!asking))}
            aria-label={`Not here: lane ${line.number}`}
            sx={{ minHeight: 44, px: 2 }}
          >
            Not here
          </ToggleButton>
        </Box>
      )}
      {asking && (
        <Box
          component="form"
          sx={{ display: "flex", gap: 1, width: "100%" }}
          onSubmit={(event) => {
            event.preventDefault();
            say(false, where);
          }}
        >
          <TextField
            size="small"
            fullWidth
            autoFocus
            label="Where it came out, if anywhere"
            value={where}
            onChange={({ target }) => setWhere(target.value)}
            slotProps={{ htmlInput: { maxLength: 100 } }}
          />
          <Button type="submit" variant="contained" sx={{ whiteSpace: "nowrap", flexShrink: 0 }}>
            Note it
          </Button>
        </Box>
      )}
    </Box>
  );
}
