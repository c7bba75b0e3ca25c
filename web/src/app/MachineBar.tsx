import { Alert } from "@mui/material";
import { useConnected, useEngineAge, useMachine } from "../api/live";

/** What is wrong with server, engine, deck or audio device at this moment, on every page; the stage says by itself how old the deck's word is. */
export function MachineBar({ deckToo = true }: { deckToo?: boolean }) {
  const connected = useConnected();
  const engineAge = useEngineAge();
  const deckAnswers = useMachine((frame) => frame.deck_silent_s === null);
  const device = useMachine((frame) =>
    frame.engine ? `${frame.engine.device.state}|${frame.engine.device.fault ?? "no answer"}` : "running|",
  );
  const silentS = useMachine((frame) => frame.engine?.device.silent_s ?? null);
  const [deviceState, deviceFault] = device.split("|", 2);
  return (
    <>
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
      {deckToo && connected && engineAge === null && !deckAnswers && (
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
    </>
  );
}
