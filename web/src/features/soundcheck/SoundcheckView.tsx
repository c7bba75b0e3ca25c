import { Box, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { Suspense, useState } from "react";
import type { Proof, Show } from "../../api/client";
import { useLoom } from "../../api/patch";
import { useSoundcheck } from "../../api/stage";
import { later } from "../../ui/later";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";
import { BackOnStage, ByHand } from "./ByHand";
import { ChannelLevels } from "./ChannelLevels";
import { Doors } from "./Doors";
import { HeardPicture, PICTURE } from "./HeardPicture";
import { ReturnsAside } from "./ReturnsAside";
import { Swing } from "./Swing";
import { TakeList } from "./TakeList";
import { WayBack } from "./WayBack";

const Loom = later(() => import("../../ui/loom/Loom").then((part) => part.Loom), { wide: true });

/** Swing the desk to the recorder, prove it by ear, play a take into its own channels, swing back. */
export function SoundcheckView({ show }: { show: Show }) {
  const soundcheck = useSoundcheck().data;
  const phone = useWidth() === "phone";
  const desks = show.desks.length > 1 ? show.desks : [null];
  return (
    <>
      <StepHead title="Soundcheck" hint={hint(show)} />
      <Box
        sx={{
          flex: 1,
          overflow: "auto",
          px: phone ? 1.25 : 2,
          pb: 2,
          display: "grid",
          gridTemplateColumns: phone ? "minmax(0, 1fr)" : "minmax(300px, 5fr) minmax(320px, 6fr)",
          gap: 2,
          alignContent: "start",
          alignItems: "start",
        }}
      >
        <Box sx={{ display: "grid", gap: 2, alignContent: "start" }}>
          {desks.map((desk, at) => (
            <Swing key={desk?.id ?? "desk"} show={show} desk={desk}>
              {soundcheck && at === 0 && <BackOnStage soundcheck={soundcheck} />}
              {soundcheck && at === 0 && <Doors soundcheck={soundcheck} />}
            </Swing>
          ))}
          {soundcheck && <ByHand soundcheck={soundcheck} />}
        </Box>
        <Box sx={{ display: "grid", gap: 2, alignContent: "start", minWidth: 0 }}>
          <TakeList show={show} />
          {soundcheck && <WayBack show={show} soundcheck={soundcheck} />}
          {soundcheck && <ReturnsAside show={show} />}
        </Box>
        <Box sx={{ gridColumn: "1 / -1", minWidth: 0 }}>
          <ChannelLevels show={show} />
        </Box>
        <Ways proof={soundcheck?.proof?.lanes.length ? soundcheck.proof : null} />
      </Box>
    </>
  );
}

function hint(show: Show): string {
  if (show.feed !== "recorder") return "Turn the desk's channels to the recorder and mix with no band present.";
  const onIt = show.desks.filter(({ feed }) => feed === "recorder").map(({ name }) => name);
  const turned = show.desks.length > 1 ? `${onIt.join(" and ")} ${onIt.length > 1 ? "listen" : "listens"}` : "The desk listens";
  return `${turned} to the recorder. Turn it back before anybody steps up to a microphone.`;
}

/** The way back: as it was heard, where it was, or as it is planned. */
function Ways({ proof }: { proof: Proof | null }) {
  const [planned, setPlanned] = useState(false);
  const loom = useLoom("soundcheck");
  const phone = useWidth() === "phone";
  const heard = proof && !planned;
  if (phone && !proof) return null;
  return (
    <Box
      component="section"
      id={PICTURE}
      aria-label="The way back"
      sx={{
        gridColumn: "1 / -1",
        minWidth: 0,
        minHeight: heard ? 0 : 300,
        ...(heard && { bgcolor: "background.paper", borderRadius: 1, p: 1.5 }),
      }}
    >
      {proof && !phone && (
        <ToggleButtonGroup
          size="small"
          exclusive
          value={planned ? "planned" : "heard"}
          onChange={(_, value) => value && setPlanned(value === "planned")}
          sx={{ mb: 1 }}
        >
          <ToggleButton value="heard">As it was heard</ToggleButton>
          <ToggleButton value="planned">As it is planned</ToggleButton>
        </ToggleButtonGroup>
      )}
      {heard ? (
        <HeardPicture proof={proof} />
      ) : (
        <Suspense>{loom.data && <Loom loom={loom.data} keep={12} label="Soundcheck loom" onFocus={() => undefined} />}</Suspense>
      )}
    </Box>
  );
}
