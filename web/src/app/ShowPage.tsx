import { Alert, Box, Button, CircularProgress } from "@mui/material";
import { type ReactNode, Suspense, useEffect, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Show } from "../api/client";
import { useMay } from "../api/may";
import { OpenShowProvider } from "../api/openShow";
import { useShowOf } from "../api/show";
import { slug } from "../model/format";
import { fetchAhead, later } from "../ui/later";
import { NoticeLine } from "../ui/notice";
import { useRoomWanted } from "../ui/room";
import { useWakeLock } from "../ui/useWakeLock";
import { useRoomForBoth, useWidth } from "../ui/useWidth";
import { AlarmBar } from "./AlarmBar";
import { DeskAway } from "./DeskAway";
import { DoorsBar } from "./DoorsBar";
import { FindingsRail, FindingsSheet, FindingsSide } from "./FindingsSide";
import { GuideBar } from "./GuideBar";
import { MachineBar } from "./MachineBar";
import { Shortcuts } from "./Shortcuts";
import { ShowStrip } from "./ShowStrip";
import { StepBar } from "./StepBar";
import { StepRail } from "./StepRail";
import { UnsentBar } from "./UnsentBar";

const RigView = later(() => import("../features/rig/RigView").then((part) => part.RigView));
const PatchView = later(() => import("../features/patch/PatchView").then((part) => part.PatchView));
const LineCheckView = later(() => import("../features/linecheck/LineCheckView").then((part) => part.LineCheckView));
const CaptureView = later(() => import("../features/capture/CaptureView").then((part) => part.CaptureView));
const SoundcheckView = later(() => import("../features/soundcheck/SoundcheckView").then((part) => part.SoundcheckView));
const TracksView = later(() => import("../features/tracks/TracksView").then((part) => part.TracksView));
const StageView = later(() => import("../features/stage/StageView").then((part) => part.StageView));
const LineUpView = later(() => import("../features/tracks/LineUpView").then((part) => part.LineUpView));
const OutputsView = later(() => import("../features/patch/OutputsView").then((part) => part.OutputsView));
const PaperView = later(() => import("../features/paper/PaperView").then((part) => part.PaperView));
const OnAirDialog = later(() => import("../features/onair/OnAirDialog").then((part) => part.OnAirDialog));

type Lit = string[];
const pages: Record<string, (show: Show, lit: Lit) => ReactNode> = {
  rig: (_, lit) => <RigView lit={lit} />,
  patch: (_, lit) => <PatchView lit={lit} />,
  "line-check": (show) => <LineCheckView show={show} />,
  capture: (show) => <CaptureView show={show} />,
  soundcheck: (show) => <SoundcheckView show={show} />,
  tracks: (show, lit) => <TracksView show={show} lit={lit} />,
  "line-up": (show) => <LineUpView show={show} />,
  outputs: (_, lit) => <OutputsView lit={lit} />,
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
      <Box sx={{ display: "grid", placeItems: "center", height: "100dvh" }}>
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
  const width = useWidth();
  const [findingsBeside, setFindingsBeside] = useFindingsOpen();
  // Where they would lie over the page they are opened by hand, each time.
  const [findingsOver, setFindingsOver] = useState(false);
  const beside = width === "desk";
  // A panel of the step takes the findings' room for as long as it is open, unless somebody asks for them.
  const folded = useFoldedForRoom();
  const unfolded = findingsBeside && !folded.now;
  const unfold = (open: boolean) => {
    setFindingsBeside(open);
    folded.answer(open);
  };
  useEffect(() => fetchAhead(width !== "phone"), [width]);
  const [keysOpen, setKeysOpen] = useState(false);
  const [onAirOpen, setOnAirOpen] = useState(false);
  const [lit, setLit] = useState<Lit>([]);
  const own = slug(show.id, show.name);
  // An address keeps up with the show's name; the id alone says which it is.
  useEffect(() => {
    if (named !== own) navigate(`/shows/${own}/${step}`, { replace: true });
  }, [named, own, step, navigate]);
  useWakeLock(ON_STAGE.includes(step));
  // The stage has the whole screen; what went wrong is said there too.
  if (step === "stage")
    return (
      <Box sx={{ display: "flex", flexDirection: "column", height: "100dvh" }}>
        <MachineBar deckToo={false} />
        <AlarmBar />
        <Suspense fallback={<CircularProgress aria-label="Fetching this step" sx={{ m: "auto" }} />}>
          <StageView show={show} back={`/shows/${own}/tracks`} />
        </Suspense>
      </Box>
    );
  return (
    <Box sx={{ display: "flex", flexDirection: "column", height: "100dvh" }}>
      <ShowStrip
        show={show}
        onFindings={() => (beside ? unfold(!unfolded) : setFindingsOver(true))}
        onAir={() => setOnAirOpen(true)}
        onKeys={() => setKeysOpen(true)}
      />
      <MachineBar />
      <AlarmBar />
      <UnsentBar />
      {show.on_air && <DoorsBar show={show} />}
      <Box sx={{ display: "flex", flex: 1, minHeight: 0 }}>
        {beside && <StepRail findings={show.findings} onKeys={() => setKeysOpen(true)} />}
        <Box component="main" sx={{ flex: 1, minWidth: 0, minHeight: 0, display: "flex", flexDirection: "column" }}>
          <GuideBar show={show} step={step} onAir={() => setOnAirOpen(true)} />
          {show.on_air ? <DeskAway step={step} /> : <OffAir step={step} onAir={() => setOnAirOpen(true)} />}
          <Suspense fallback={<CircularProgress aria-label="Fetching this step" sx={{ m: "auto" }} />}>
            {pages[step]?.(show, lit) ?? <Alert severity="info">There is no such page; choose a step.</Alert>}
          </Suspense>
          <NoticeLine />
        </Box>
        {beside &&
          (unfolded ? (
            <FindingsSide findings={show.findings} step={step} onShow={setLit} onClose={() => unfold(false)} />
          ) : (
            <FindingsRail findings={show.findings} onOpen={() => unfold(true)} />
          ))}
      </Box>
      {!beside && <StepBar findings={show.findings} />}
      {!beside && <FindingsSheet findings={show.findings} open={findingsOver} onShow={setLit} onClose={() => setFindingsOver(false)} />}
      <Shortcuts open={keysOpen} onOpen={setKeysOpen} />
      <Suspense>{onAirOpen && <OnAirDialog show={show} onClose={() => setOnAirOpen(false)} />}</Suspense>
    </Box>
  );
}

/** Whether the findings give way to a panel; what somebody answers holds until the panel is closed. */
function useFoldedForRoom() {
  const wanted = useRoomWanted();
  const enough = useRoomForBoth();
  const [asked, setAsked] = useState(false);
  useEffect(() => {
    if (!wanted) setAsked(false);
  }, [wanted]);
  return { now: wanted && !enough && !asked, answer: (open: boolean) => setAsked(open && wanted) };
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

const USES_SOUND = ["line-check", "capture", "soundcheck", "tracks", "line-up"];
/** Looked at from a music stand or in one hand: the screen stays awake there. */
const ON_STAGE = [...USES_SOUND, "stage"];

/** On each step that records or plays, while another show holds desk and audio device. */
function OffAir({ step, onAir }: { step: string; onAir: () => void }) {
  const operates = useMay("operate");
  if (!USES_SOUND.includes(step)) return null;
  return (
    <Alert
      severity="info"
      square
      sx={{ py: 0, fontSize: 13 }}
      action={
        operates && (
          <Button color="inherit" size="small" onClick={onAir}>
            Put it on air
          </Button>
        )
      }
    >
      This show is not on air: it can be planned, but nothing is recorded or played for it, and no level here is its own.
    </Alert>
  );
}
