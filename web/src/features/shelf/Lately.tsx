import { Box, Button, Link, Typography } from "@mui/material";
import { Link as RouterLink } from "react-router";
import type { ListedShow } from "../../api/client";
import { OpenShowProvider } from "../../api/openShow";
import { useHistory, useShow } from "../../api/show";
import { ago, slug } from "../../model/format";
import { FINGER_PX, FINGERS } from "../../theme/theme";

const SHOWN = 6;
const SEVERITIES = { stop: 0, warn: 1, note: 2 };

/** Under a short list: what is next at the show on air, and what changed in it lately. */
export function Lately({ show }: { show: ListedShow }) {
  return (
    <OpenShowProvider value={{ id: show.id, onAir: true }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, px: 2, pt: 3 }}>
        <Next show={show} />
        <Changed />
      </Box>
    </OpenShowProvider>
  );
}

const panel = { flex: "1 1 300px", minWidth: 0, bgcolor: "background.paper", borderRadius: 1, p: 1.5 } as const;

/** What is found in it, the worst first, each at its step. */
function Next({ show }: { show: ListedShow }) {
  const whole = useShow();
  const open = (whole.data?.findings ?? []).filter(({ accepted }) => !accepted);
  const worst = open.toSorted((one, other) => SEVERITIES[one.severity] - SEVERITIES[other.severity]);
  return (
    <Box component="section" aria-label="What is next" sx={panel}>
      <Typography component="h2" variant="h2">
        What is next in {show.name}
      </Typography>
      {whole.data && open.length === 0 && <Typography color="text.secondary">Nothing is found that needs mending.</Typography>}
      {worst.slice(0, SHOWN).map((finding) => (
        <Box key={finding.key} sx={{ py: 0.4 }}>
          <Link
            component={RouterLink}
            to={`/shows/${slug(show.id, show.name)}/${finding.step}`}
            color={finding.severity === "stop" ? "error.main" : "inherit"}
            sx={{ [FINGERS]: { display: "inline-flex", alignItems: "center", minHeight: FINGER_PX } }}
          >
            {finding.title}
          </Link>
        </Box>
      ))}
      {open.length > SHOWN && <Typography color="text.secondary">and {open.length - SHOWN} more</Typography>}
      <Button
        component={RouterLink}
        to={`/shows/${slug(show.id, show.name)}/capture`}
        size="small"
        variant="outlined"
        color="inherit"
        sx={{ mt: 1 }}
      >
        To Capture
      </Button>
    </Box>
  );
}

function Changed() {
  const history = useHistory(SHOWN);
  const now = Date.now();
  return (
    <Box component="section" aria-label="What changed lately" sx={panel}>
      <Typography component="h2" variant="h2">
        What changed lately
      </Typography>
      {history.data?.length === 0 && <Typography color="text.secondary">Nothing has been edited yet.</Typography>}
      {history.data?.slice(0, SHOWN).map((entry) => (
        <Box key={entry.id} sx={{ display: "flex", gap: 1.5, py: 0.4 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            {entry.label}
            {entry.undone ? " (undone)" : ""}
            {entry.who && <Box component="span" sx={{ color: "text.secondary" }}>{`, ${entry.who}`}</Box>}
          </Box>
          <Box sx={{ color: "text.secondary", whiteSpace: "nowrap" }}>{ago(entry.at, now)}</Box>
        </Box>
      ))}
    </Box>
  );
}
