import { Alert, Box, Button, Tooltip, Typography } from "@mui/material";
import { Suspense, useState } from "react";
import type { Show, Take } from "../../api/client";
import { useCommand } from "../../api/command";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useTakes } from "../../api/takes";
import { clock } from "../../model/format";
import { later } from "../../ui/later";
import { useWidth } from "../../ui/useWidth";
import { Player } from "./Player";
import { PrintPass } from "./PrintPass";

const ImportPanel = later(() => import("./ImportPanel").then((part) => part.ImportPanel), { wide: true });

/** Takes that stand there at once; the others are a click away. */
const TAKES_A_PAGE = 8;

export function TakeList({ show }: { show: Show }) {
  const [importing, setImporting] = useState(false);
  const [shown, setShown] = useState(TAKES_A_PAGE);
  const [printing, setPrinting] = useState<Take | null>(null);
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const takes = useTakes(Math.max(shown, 50));
  const key = useFrame((frame) => frame.deck?.playing?.key ?? null);
  const playing = takes.data?.takes.find(({ id }) => key === `take/${id}`);
  return (
    <Box component="section" aria-label="Takes" sx={{ bgcolor: "background.paper", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Typography component="h3" variant="h2" sx={{ flex: 1 }}>
          Takes
        </Typography>
        {operates && !phone && (
          <Button size="small" variant="outlined" color="inherit" onClick={() => setImporting(true)}>
            Bring in a recording
          </Button>
        )}
      </Box>
      {takes.error && <Alert severity="error">{takes.error.message}</Alert>}
      {takes.data?.count === 0 && (
        <Typography color="text.secondary">No take yet. Capture one, or bring in a folder of WAV files.</Typography>
      )}
      {playing && <Player take={playing} />}
      {takes.data?.takes.slice(0, shown).map((take) => (
        <TakeLine key={take.id} take={take} rateHz={show.sample_rate_hz} onPrint={phone ? null : () => setPrinting(take)} />
      ))}
      {(takes.data?.count ?? 0) > shown && (
        <Button size="small" color="inherit" onClick={() => setShown((now) => now + TAKES_A_PAGE)}>
          {(takes.data?.count ?? 0) - shown} more, older
        </Button>
      )}
      {printing && <PrintPass show={show} take={printing} onClose={() => setPrinting(null)} />}
      <Suspense>{importing && <ImportPanel show={show} onClose={() => setImporting(false)} />}</Suspense>
    </Box>
  );
}

function TakeLine({ take, rateHz, onPrint }: { take: Take; rateHz: number; onPrint: (() => void) | null }) {
  const play = useCommand(`takes/${take.id}/play`, "takes");
  const stop = useCommand("/api/playing/stop", "takes");
  const operates = useMay("operate");
  const playing = useFrame((frame) => frame.deck?.playing?.key === `take/${take.id}`);
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.25 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <strong>{take.name}</strong>{" "}
        <Box component="span" sx={{ color: "text.secondary" }}>
          {clock(take.frames / rateHz)} · {new Set(take.files.map((file) => file.track)).size} tracks · {take.origin}
        </Box>
      </Box>
      {take.state === "recording" ? (
        <Box component="span" sx={{ color: "error.main" }}>
          recording
        </Box>
      ) : !operates ? null : playing ? (
        <Button size="small" variant="outlined" onClick={() => stop.mutate({})}>
          Stop
        </Button>
      ) : (
        <>
          <Tooltip title="Play it, and on into the takes behind it">
            <Button size="small" color="inherit" onClick={() => play.mutate({ onward: true })} aria-label={`Play: ${take.name}`}>
              Play
            </Button>
          </Tooltip>
          <Button size="small" variant="outlined" onClick={() => play.mutate({ repeat: true })} aria-label={`Play in a loop: ${take.name}`}>
            Play in a loop
          </Button>
          {onPrint && (
            <Tooltip title="Play it once and record what the desk sends back">
              <Button size="small" color="inherit" onClick={onPrint} aria-label={`Print: ${take.name}`}>
                Print
              </Button>
            </Tooltip>
          )}
        </>
      )}
    </Box>
  );
}
