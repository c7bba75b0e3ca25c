import { Alert, Button } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useConnected } from "../api/live";
import { forgetUnsent, sendUnsent, type Unsent, useUnsent } from "../api/unsent";

/** As many as leave room for the page below; the others are counted. */
const SHOWN = 3;

/** What was typed while the server was away, on every page until it is kept or given up. */
export function UnsentBar() {
  const unsent = useUnsent();
  const connected = useConnected();
  const client = useQueryClient();
  const [sending, setSending] = useState(false);
  if (unsent.length === 0) return null;
  const refused = unsent.some(({ fault }) => fault !== null);
  const send = async () => {
    setSending(true);
    await sendUnsent(client).finally(() => setSending(false));
  };
  return (
    <Alert
      severity={refused ? "error" : "warning"}
      square
      aria-label="Not kept yet"
      action={
        <>
          <Button color="inherit" size="small" onClick={() => forgetUnsent(unsent.map(({ id }) => id))}>
            {unsent.length === 1 ? "Give it up" : "Give them up"}
          </Button>
          <Button color="inherit" size="small" variant="outlined" disabled={!connected || sending} onClick={send}>
            {`Keep ${unsent.length === 1 ? "it" : "them"} ${refused ? "all the same" : "now"}`}
          </Button>
        </>
      }
    >
      {unsent.length === 1 ? "One change is not kept yet" : `${unsent.length} changes are not kept yet`}
      {": "}
      {unsent.slice(0, SHOWN).map(words).join("; ")}
      {unsent.length > SHOWN && `; and ${unsent.length - SHOWN} more`}. {!refused && unsent.find(({ why }) => why)?.why}
    </Alert>
  );
}

const words = ({ label, typed, fault }: Unsent) => `${label}${typed && ` (${typed})`}${fault ? ` – ${fault}` : ""}`;
