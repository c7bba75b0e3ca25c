import { Alert, Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useConnected, useMachine } from "../api/live";
import { withoutDesk } from "../model/deskLine";
import { useDeskLine } from "../ui/useDeskLine";

/** A desk that is only slow is not away. */
const PATIENCE_MS = 3000;

/** On each step that uses the desk's control line, while there is none: what works without it, and what does not. */
export function DeskAway({ step }: { step: string }) {
  // Without the server nothing is known of the desk, and that is said elsewhere.
  const connected = useConnected();
  const answers = useMachine((frame) => frame.desk.answers) || !connected;
  const [away, setAway] = useState(false);
  const [line, setLine] = useDeskLine();
  useEffect(() => {
    if (answers) return setAway(false);
    const timer = setTimeout(() => setAway(true), PATIENCE_MS);
    return () => clearTimeout(timer);
  }, [answers]);
  const words = withoutDesk(step);
  if (!away || words === null) return null;
  return (
    <Alert
      severity={line ? "warning" : "info"}
      square
      sx={{ py: 0, fontSize: 13 }}
      action={
        line && (
          <Button color="inherit" size="small" onClick={() => setLine(false)}>
            This desk has none
          </Button>
        )
      }
    >
      {line ? "The desk's control line does not answer. " : "This desk has no control line. "}
      {words}
    </Alert>
  );
}
