import { Alert, Box, Button } from "@mui/material";
import { Suspense, useState } from "react";
import { Link } from "react-router";
import type { Show } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useMay } from "../../api/may";
import { useLoom, useRig, useTrace } from "../../api/patch";
import { atDesk } from "../../model/levelOf";
import { later } from "../../ui/later";
import type { Aim } from "../../ui/loom/HoldChip";
import { May } from "../../ui/May";
import { Meter, MeterScale } from "../../ui/Meter";
import { StepHead } from "../../ui/StepHead";
import { ThreadSentence } from "../../ui/ThreadSentence";
import { useWidth } from "../../ui/useWidth";
import { SetList } from "./SetList";
import { SongShelf } from "./SongShelf";

const Loom = later(() => import("../../ui/loom/Loom").then((part) => part.Loom), { wide: true });
const NewSong = later(() => import("./NewSong").then((part) => part.NewSong), { wide: true });
const RolesDialog = later(() => import("./RolesDialog").then((part) => part.RolesDialog), { wide: true });

/** The set list, the loom from roles to listeners, and who hears what now. */
export function TracksView({ show, lit }: { show: Show; lit: string[] }) {
  const loom = useLoom("tracks");
  const [focus, setFocus] = useState<string | null>(null);
  const [making, setMaking] = useState(false);
  const trace = useTrace(focus);
  const join = useShowCommand("joins");
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  return (
    <>
      <StepHead title="Tracks" hint="Every role of a stem goes to its own lane once, for the whole set list.">
        <Button size="small" variant="outlined" color="inherit" component={Link} to="../stage" relative="path">
          Stage view
        </Button>
        <Button size="small" variant="outlined" color="inherit" component={Link} to="../line-up" relative="path">
          Line-up
        </Button>
        <May what="operate">
          {!phone && (
            <Button size="small" variant="contained" onClick={() => setMaking(true)}>
              New song
            </Button>
          )}
          <SongShelf show={show} />
          <Suspense>{!phone && <RolesDialog show={show} />}</Suspense>
        </May>
      </StepHead>
      <Suspense>{making && <NewSong onClose={() => setMaking(false)} />}</Suspense>
      <Box
        sx={{
          px: phone ? 1.25 : 2,
          display: "flex",
          gap: 2,
          flexWrap: "wrap",
          ...(phone && { flex: 1, overflow: "auto", alignContent: "flex-start" }),
        }}
      >
        <Box component="section" aria-label="Set list" sx={{ flex: "1 1 320px" }}>
          <SetList show={show} />
        </Box>
        <ListenerMeters />
      </Box>
      {!phone && (
        <Box sx={{ flex: 1, minHeight: 0, px: 2, mt: 1, overflow: "auto" }}>
          {loom.error && <Alert severity="error">{loom.error.message}</Alert>}
          <Suspense>
            {loom.data && (
              <Loom
                loom={loom.data}
                keep={8}
                shown={lit}
                label="Tracks loom"
                onFocus={setFocus}
                {...(operates && { onJoin: ({ part: _, ...joined }: Aim) => join(joined) })}
              />
            )}
          </Suspense>
        </Box>
      )}
      {!phone && (
        <ThreadSentence
          sentence={focus ? trace.data?.sentence : undefined}
          rest="Point at a role to see who can hear it. Lay a role on a lane, or a channel on a mix, as on the patch."
        />
      )}
    </>
  );
}

const LISTENER_COLUMNS = "minmax(90px, 126px) 84px 1fr";

/** What arrives at each listener, as the desk measures it. */
function ListenerMeters() {
  const rig = useRig();
  const listeners = (rig.data?.devices ?? []).filter((device) => device.kind === "listener");
  let at = rig.data?.listeners_at ?? 0;
  const places = listeners.map((device) => {
    const first = at;
    at += device.places[0]?.count ?? 1;
    return { device, first };
  });
  return (
    <Box component="section" aria-label="Listeners" sx={{ flex: "1 1 300px", bgcolor: "background.paper", borderRadius: 1, p: 1.25 }}>
      {places.length > 0 && (
        <Box sx={{ display: "grid", gridTemplateColumns: LISTENER_COLUMNS, gap: 1 }}>
          <Box sx={{ gridColumn: "1 / 3" }} />
          <MeterScale />
        </Box>
      )}
      {places.map(({ device, first }) => (
        <ListenerRow key={device.id} name={device.name} audience={device.audience ?? ""} place={first} />
      ))}
    </Box>
  );
}

function ListenerRow({ name, audience, place }: { name: string; audience: string; place: number }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: LISTENER_COLUMNS, gap: 1, alignItems: "center", fontSize: 13, height: 22 }}>
      <span>{name}</span>
      <Box component="span" sx={{ color: "text.secondary" }}>
        {audience}
      </Box>
      <Meter of={atDesk(place + 1)} label={`${name} level`} height={9} />
    </Box>
  );
}
