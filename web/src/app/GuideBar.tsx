import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Edit, Show } from "../api/client";
import { useShowCommand } from "../api/edits";
import { useFrame } from "../api/live";
import { useMay } from "../api/may";
import { useGuide } from "../api/show";
import { useTakes } from "../api/takes";

/**
 * Leads a show that is still empty by the hand: what is missing next, one step at a time, until its first take runs.
 * A show that has a take, or that somebody began by hand and put away here, is left alone.
 */
export function GuideBar({ show, step, onAir }: { show: Show; step: string; onAir: () => void }) {
  const guide = useGuide();
  const takes = useTakes();
  const operates = useMay("operate");
  const [gone, setGone] = useState(false);
  /** Whether something was missing while this page was open: a whole plan that somebody looks at needs no hand. */
  const [led, setLed] = useState(false);
  const recording = useFrame((frame) => frame.engine?.recording != null);
  const navigate = useNavigate();
  const { show: named } = useParams();
  const missing = guide.data?.next != null;
  useEffect(() => {
    if (missing) setLed(true);
  }, [missing]);
  if (!operates || gone || !(missing || led) || recording || !guide.data || !takes.data || takes.data.count > 0) return null;
  const next = guide.data.next;
  const done = guide.data.steps.filter((one) => one.done).length;
  if (!next && step === "capture") return null;
  return (
    <Box
      role="region"
      aria-label="What is missing next"
      sx={{
        display: "flex",
        gap: 1.5,
        flexWrap: "wrap",
        alignItems: "center",
        px: 2,
        py: 1,
        borderBottom: 1,
        borderColor: "divider",
        bgcolor: "background.paper",
      }}
    >
      <Typography sx={{ flex: "1 1 240px", fontSize: 13.5 }}>
        <strong>
          Step {done + 1 + (!next && show.on_air ? 1 : 0)} of {guide.data.steps.length + 2}
        </strong>{" "}
        {next
          ? next.words
          : show.on_air
            ? "Everything is there. Record."
            : "The plan can be recorded. Put the show on air to hold desk and device."}
      </Typography>
      {next ? (
        <Offers key={next.key} offers={next.offers} />
      ) : show.on_air ? (
        <Button variant="contained" size="small" onClick={() => navigate(`/shows/${named}/capture`)}>
          To Capture
        </Button>
      ) : (
        <Button variant="contained" size="small" onClick={onAir}>
          Put it on air
        </Button>
      )}
      <Button size="small" color="inherit" onClick={() => setGone(true)}>
        By hand
      </Button>
    </Box>
  );
}

/** One of several ways, the most usual first. */
function Offers({ offers }: { offers: { label: string; edit: Edit }[] }) {
  const edit = useShowCommand("edits");
  const [at, setAt] = useState(0);
  const offer = offers[at];
  if (!offer) return null;
  return (
    <>
      {offers.length > 1 && (
        <TextField
          select
          size="small"
          value={at}
          onChange={({ target }) => setAt(Number(target.value))}
          slotProps={{ htmlInput: { "aria-label": "Which" } }}
          sx={{ minWidth: 200, maxWidth: "min(420px, 100%)" }}
        >
          {offers.map(({ label }, one) => (
            <MenuItem key={label} value={one}>
              {label}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Button
        variant="contained"
        size="small"
        onClick={() => edit({ label: offer.label.slice(0, 200), edit: offer.edit })}
        sx={{ flexShrink: 0 }}
      >
        {offers.length > 1 ? "Add" : offer.label}
      </Button>
    </>
  );
}
