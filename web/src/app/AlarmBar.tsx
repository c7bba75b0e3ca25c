import { Alert, Button } from "@mui/material";
import { useCommand } from "../api/command";
import { useMay } from "../api/may";
import { useAlarms } from "../api/shelf";

/** As many as leave room for the page below; the others are counted. */
const SHOWN = 2;

/** What went wrong and stays on every page until somebody has seen it. */
export function AlarmBar() {
  const alarms = useAlarms();
  const seen = useCommand("/api/alarms/seen", "alarms");
  const operates = useMay("operate");
  const open = alarms.data?.filter((alarm) => alarm.seen_at === null) ?? [];
  const more = open.length - SHOWN;
  return open.slice(0, SHOWN).map((alarm, at) => (
    <Alert
      key={alarm.key}
      severity="error"
      variant="outlined"
      square
      data-alarm={alarm.key}
      sx={{ py: 0, alignItems: "center", borderWidth: "0 0 1px 6px" }}
      action={
        operates && (
          <>
            {at === SHOWN - 1 && more > 0 && (
              <Button color="inherit" size="small" onClick={() => seen.mutate({ keys: open.map(({ key }) => key) })}>
                All {open.length} seen
              </Button>
            )}
            <Button color="inherit" size="small" onClick={() => seen.mutate({ keys: [alarm.key] })}>
              Seen
            </Button>
          </>
        )
      }
    >
      {alarm.words}
    </Alert>
  ));
}
