import { Alert, Box, Button, CircularProgress } from "@mui/material";
import { type ReactNode, useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Show } from "../api/client";
import { OpenShowProvider } from "../api/openShow";
import { useShowOf } from "../api/queries";
import { CaptureView } from "../features/capture/CaptureView";
import { OnAirDialog } from "../features/onair/OnAirDialog";
import { PaperView } from "../features/paper/PaperView";
import { PatchView } from "../features/patch/PatchView";
import { RigView } from "../features/rig/RigView";
import { SoundcheckView } from "../features/soundcheck/SoundcheckView";
import { TracksView } from "../features/tracks/TracksView";
import { slug } from "../model/format";
import { AlarmBar } from "./AlarmBar";
import { DeskAway } from "./DeskAway";
import { FindingsDrawer, FindingsRail } from "./FindingsDrawer";
import { GuideBar } from "./GuideBar";
import { MachineBar } from "./MachineBar";
import { Shortcuts } from "./Shortcuts";
import { ShowStrip } from "./ShowStrip";
import { StepRail } from "./StepRail";
import { UnsentBar } from "./UnsentBar";

type Lit = string[];
const steps: Record<string, (show: Show, lit: Lit) => ReactNode> = {
  rig: (_, lit) => <RigView lit={lit} />,
  patch: (_, lit) => <PatchView lit={lit} />,
  capture: (show) => <CaptureView show={show} />,
  soundcheck: (show) => <SoundcheckView show={show} />,
  tracks: (show, lit) => <TracksView show={show} lit={lit} />,
  paper: () => <PaperView />,
};

/** One show at one of its steps. */
export function ShowPage() {
  const { show: named = "" } = useParams();
  const id = Number.parseInt(named, 10) || 0;
  const show = useShowOf(id);
  const onAir = show.data?.on_air ?? false;
  const open = useMemo(() => ({ id, onAir }), [id, onAir]);
  if (!show.data)
    return (
      <Box sx={{ display: "grid", placeItems: "center", height: "100vh" }}>
        {show.error ? (
          <Alert
            severity="error"
            action={
              <Button component={Link} to="/" color="inherit" size="small">
                All shows
              </Button>
            }
          >
            {show.error.message}
          </Alert>
        ) : (
          <CircularProgress aria-label="Loading the show" />
        )}
      </Box>
    );
  return (
    // Another show is another page: nothing that was chosen in one is meant for the next.
    <OpenShowProvider key={id} value={open}>
      <Opened show={show.data} />
    </OpenShowProvider>
  );
}

function Opened({ show }: { show: Show }) {
  const { show: named = "", step = "" } = useParams();
  const navigate = useNavigate();
  const [findingsOpen, setFindingsOpen] = useFindingsOpen();
  const [keysOpen, setKeysOpen] = useState(false);
  const [onAirOpen, setOnAirOpen] = useState(false);
  const [lit, setLit] = useState<Lit>([]);
  const own = slug(show.id, show.name);
  // An address keeps up with the show's name; the id alone says which it is.
  useEffect(() => {
    if (named !== own) navigate(`/shows/${own}/${step}`, { replace: true });
  }, [named, own, step, navigate]);
  return (
    <Box sx={{ display: "flex", flexDirection: "column", height: "100vh" }}>
      <ShowStrip show={show} onFindings={() => setFindingsOpen(!findingsOpen)} onAir={() => setOnAirOpen(true)} />
      <MachineBar />
      <AlarmBar />
      <UnsentBar />
      <Box sx={{ display: "flex", flex: 1, minHeight: 0 }}>
        <StepRail findings={show.findings} onKeys={() => setKeysOpen(true)} />
        <Box component="main" sx={{ flex: 1, minWidth: 0, minHeight: 0, display: "flex", flexDirection: "column" }}>
          <GuideBar show={show} step={step} onAir={() => setOnAirOpen(true)} />
          {show.on_air ? <DeskAway step={step} /> : <OffAir step={step} onAir={() => setOnAirOpen(true)} />}
          {steps[step]?.(show, lit) ?? <Alert severity="info">There is no such page; choose a step on the left.</Alert>}
        </Box>
        {findingsOpen ? (
          <FindingsDrawer findings={show.findings} step={step} onShow={setLit} onClose={() => setFindingsOpen(false)} />
        ) : (
          <FindingsRail findings={show.findings} onOpen={() => setFindingsOpen(true)} />
        )}
      </Box>
      <Shortcuts open={keysOpen} onOpen={setKeysOpen} />
      {onAirOpen && <OnAirDialog show={show} onClose={() => setOnAirOpen(false)} />}
    </Box>
  );
}

const FINDINGS = "loomshuttle-findings";

/** Whether the findings are unfolded; a browser remembers it. */
function useFindingsOpen(): [boolean, (open: boolean) => void] {
  const [open, setOpen] = useState(() => localStorage.getItem(FINDINGS) !== "folded");
  return [
    open,
    (wanted) => {
      localStorage.setItem(FINDINGS, wanted ? "open" : "folded");
      setOpen(wanted);
    },
  ];
}

const USES_SOUND = ["capture", "soundcheck", "tracks"];

/** On each step that records or plays, while another show holds desk and audio device. */
function OffAir({ step, onAir }: { step: string; onAir: () => void }) {
  if (!USES_SOUND.includes(step)) return null;
  return (
    <Alert
      severity="info"
      square
      sx={{ py: 0, fontSize: 13 }}
      action={
        <Button color="inherit" size="small" onClick={onAir}>
          Put it on air
        </Button>
      }
    >
      This show is not on air: it can be planned, but nothing is recorded or played for it, and no level here is its own.
    </Alert>
  );
}
