import { Alert, Button } from "@mui/material";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Show } from "../api/client";
import { useSoundcheck } from "../api/stage";
import { reminder } from "../model/doors";

const LOOK_MS = 5_000;
const SEVERITIES = { 1: "info", 2: "warning", 3: "error" } as const;

/** The doors are near and the desk is still on the recorder: said on every page, more loudly the nearer they are. */
export function DoorsBar({ show }: { show: Show }) {
  const doorsAt = useSoundcheck().data?.doors_at ?? null;
  const [now, setNow] = useState(() => new Date());
  const wanted = show.feed === "recorder" && doorsAt !== null;
  useEffect(() => {
    if (!wanted) return;
    setNow(new Date());
    const look = setInterval(() => setNow(new Date()), LOOK_MS);
    return () => clearInterval(look);
  }, [wanted]);
  const said = wanted ? reminder(doorsAt, now) : null;
  if (!said) return null;
  return (
    <Alert
      severity={SEVERITIES[said.loudness]}
      variant={said.loudness > 1 ? "filled" : "standard"}
      sx={{ borderRadius: 0, fontSize: 14 + 3 * said.loudness, fontWeight: said.loudness > 1 ? 700 : 400 }}
      action={
        <Button color="inherit" component={Link} to={`/shows/${show.id}/soundcheck`}>
          To the swing
        </Button>
      }
    >
      {said.words}
    </Alert>
  );
}
