import { Alert, Box, CircularProgress } from "@mui/material";
import { useState } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useConnected, useEngineAge, useFrame } from "../api/live";
import { useShow } from "../api/queries";
import { CaptureView } from "../features/capture/CaptureView";
import { PaperView } from "../features/paper/PaperView";
import { PatchView } from "../features/patch/PatchView";
import { RigView } from "../features/rig/RigView";
import { SoundcheckView } from "../features/soundcheck/SoundcheckView";
import { TracksView } from "../features/tracks/TracksView";
import { AlarmBar } from "./AlarmBar";
import { DeskAway } from "./DeskAway";
import { FindingsDrawer } from "./FindingsDrawer";
import { Shortcuts } from "./Shortcuts";
import { ShowStrip } from "./ShowStrip";
import { StepRail } from "./StepRail";

export function App() {
  const show = useShow();
  const connected = useConnected();
  const engineAge = useEngineAge();
  const deckAnswers = useFrame((frame) => frame.deck_silent_s === null);
  const device = useFrame((frame) =>
    frame.engine ? `${frame.engine.device.state}|${frame.engine.device.fault ?? "no answer"}` : "running|",
  );
  const silentS = useFrame((frame) => frame.engine?.device.silent_s ?? null);
  const [deviceState, deviceFault] = device.split("|", 2);
  const [findingsOpen, setFindingsOpen] = useState(true);
  const [lit, setLit] = useState<string[]>([]);
  const step = useLocation().pathname.slice(1);

  if (!show.data)
    return (
      <Box sx={{ display: "grid", placeItems: "center", height: "100vh" }}>
        {show.error ? <Alert severity="error">{show.error.message}</Alert> : <CircularProgress aria-label="Loading the show" />}
      </Box>
    );
  return (
    <Box sx={{ display: "flex", flexDirection: "column", height: "100vh" }}>
      <ShowStrip show={show.data} onFindings={() => setFindingsOpen((open) => !open)} />
      {!connected && (
        <Alert severity="error" square>
          The server does not answer. What is recording or playing goes on; this page comes back by itself.
        </Alert>
      )}
      {connected && engineAge !== null && (
        <Alert severity="error" square>
          The audio engine does not answer: nothing can be started or stopped until it is back. It is started again by itself, and a take
          that was running goes on then.
        </Alert>
      )}
      {connected && engineAge === null && !deckAnswers && (
        <Alert severity="warning" square>
          The deck does not answer: nothing plays until it is back. Recording does not depend on it.
        </Alert>
      )}
      {connected && engineAge === null && deviceState === "silent" && (
        <Alert severity="error" square>
          The audio device is open but gives nothing{silentS === null ? "" : `, for ${Math.round(silentS)} s now`}.
        </Alert>
      )}
      {connected && engineAge === null && deviceState !== "running" && deviceState !== "silent" && (
        <Alert severity="error" square>
          The engine has lost its audio device ({deviceFault}). It tries again by itself.
        </Alert>
      )}
      <AlarmBar />
      <Box sx={{ display: "flex", flex: 1, minHeight: 0 }}>
        <StepRail findings={show.data.findings} />
        <Box component="main" sx={{ flex: 1, minWidth: 0, minHeight: 0, display: "flex", flexDirection: "column" }}>
          <DeskAway step={step} />
          <Routes>
            <Route path="/" element={<Navigate to="/rig" replace />} />
            <Route path="/rig" element={<RigView lit={lit} />} />
            <Route path="/patch" element={<PatchView lit={lit} />} />
            <Route path="/capture" element={<CaptureView show={show.data} />} />
            <Route path="/soundcheck" element={<SoundcheckView show={show.data} />} />
            <Route path="/tracks" element={<TracksView show={show.data} lit={lit} />} />
            <Route path="/paper" element={<PaperView />} />
            <Route path="*" element={<Alert severity="info">There is no such page; choose a step on the left.</Alert>} />
          </Routes>
        </Box>
        {findingsOpen && (
          <FindingsDrawer findings={show.data.findings} step={step} onShow={setLit} onClose={() => setFindingsOpen(false)} />
        )}
      </Box>
      <Shortcuts />
    </Box>
  );
}
