import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  Switch,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
} from "@mui/material";
import { useState } from "react";
import { useBringing } from "../../api/bringing";
import { api, type ImportPlan, type Place, type Show } from "../../api/client";
import { useShowPath } from "../../api/openShow";
import { importLoom, laidOn, leftOver, parts, type Settled, startingLater, takenOff } from "../../model/importLoom";
import { FileButton } from "../../ui/FileButton";
import { Landing } from "../../ui/Landing";
import { Loom } from "../../ui/loom/Loom";
import { useNotice } from "../../ui/notice";
import { useWidth } from "../../ui/useWidth";
import { MatchTable } from "./MatchTable";

/** Brings in a recording made elsewhere: its files are matched by name, the rest by hand; the worker makes a take of them. */
export function ImportPanel({ show, onClose }: { show: Show; onClose: () => void }) {
  const path = useShowPath();
  const { say } = useNotice();
  /** What is settled now, and what was before: each step can be taken back. */
  const [steps, setSteps] = useState<Step[]>([{ settled: {}, sure: new Set() }]);
  const { settled, sure } = steps.at(-1) ?? { settled: {}, sure: new Set<string>() };
  const [starts, setStarts] = useState<Record<number, number>>({});
  const [name, setName] = useState("");
  const [convert, setConvert] = useState(false);
  const [picking, setPicking] = useState(false);
  const wide = useWidth() === "desk";
  const [face, setFace] = useState<"loom" | "table">("table");
  const { plan, fault, setFault, progress, leave, lookAgain, bringFiles, bringFolder, accept } = useBringing<ImportPlan>(
    path("imports"),
    (found) => {
      const own = ({ file, channel }: { file: number; channel: number }) => `${file}#${channel}`;
      setSteps([
        {
          settled: Object.fromEntries(found.matched.map((place) => [own(place), place.track])),
          sure: new Set(found.matched.filter((place) => place.sure).map(own)),
        },
      ]);
      setStarts(Object.fromEntries(found.starts.map(({ file, at_frames }) => [file, at_frames])));
    },
  );
  const settle = (now: Settled, keys: string[]) => setSteps([...steps, { settled: now, sure: new Set([...sure, ...keys]) }]);
  const choose = (key: string, track: string) => {
    const { [key]: _, ...rest } = settled;
    settle(track ? { ...rest, [key]: track } : rest, [key]);
  };

  async function make() {
    if (!plan) return;
    const places: Place[] = parts(plan).flatMap((part) =>
      settled[part.key]
        ? [{ file: part.of.number, channel: part.channel, track: settled[part.key] ?? "", at_frames: starts[part.of.number] ?? 0 }]
        : [],
    );
    if (!(await accept({ name, places, convert }))) return;
    say("The recording is being taken in; what runs is told at the top of every page.", "success");
    onClose();
  }
  /** A file's beginning by what it and another both hear; none begins before the take does. */
  async function listen(file: number, like: number) {
    if (!plan) return;
    const channel = 1;
    try {
      const { later_frames } = await api.post<{ later_frames: number | null }>(`${path("imports")}/${plan.id}/offset`, {
        part: { file, channel },
        like: { file: like, channel },
      });
      if (later_frames === null) return setFault("The ear finds nothing that both of them heard.");
      setStarts(startingLater(starts, file, like, later_frames));
    } catch (error) {
      setFault(error instanceof Error ? error.message : String(error));
    }
  }
  const close = () => {
    leave();
    onClose();
  };
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth>
      <DialogTitle>Bring in a recording</DialogTitle>
      <DialogContent>
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", pt: 1 }}>
          <FileButton files="WAV files" accept=".wav,.wave,.bwf,.rf64,.zip,.csv,.tsv,.json" multiple onFiles={bringFiles}>
            Choose files
          </FileButton>
          <Button variant="outlined" onClick={() => setPicking((is) => !is)}>
            A folder of the recording computer
          </Button>
          {plan && <TextField size="small" label="Name of the take" value={name} onChange={({ target }) => setName(target.value)} />}
        </Box>
        <Landing
          picking={picking}
          onPicking={setPicking}
          onFolder={bringFolder}
          progress={progress}
          fault={fault}
          files={plan?.files ?? []}
        />
        {plan?.list && <Box sx={{ mt: 1, color: "text.secondary" }}>Numbers are what {plan.list} calls them.</Box>}
        {plan && plan.rate_faults.length > 0 && (
          <FormControlLabel
            control={<Switch checked={convert} onChange={(_, on) => setConvert(on)} />}
            label={`Convert the ${plan.rate_faults.length === 1 ? "file that is" : `${plan.rate_faults.length} files that are`} at another rate; otherwise they must be left out`}
          />
        )}
        {plan && (
          <Box sx={{ display: "flex", gap: 1, mt: 1, alignItems: "center" }}>
            {wide && (
              <ToggleButtonGroup
                size="small"
                exclusive
                value={face}
                onChange={(_, value) => value && setFace(value)}
                aria-label="Settle it"
              >
                <ToggleButton value="table">As a table</ToggleButton>
                <ToggleButton value="loom">On the loom</ToggleButton>
              </ToggleButtonGroup>
            )}
            {plan.takes.length > 1 && (
              <TextField
                select
                size="small"
                label="Take of the folder"
                value={plan.take ?? ""}
                onChange={({ target }) => lookAgain(`take=${target.value}`)}
                sx={{ minWidth: 140 }}
              >
                {plan.takes.map((take) => (
                  <MenuItem key={take} value={take}>
                    Take {take}
                  </MenuItem>
                ))}
              </TextField>
            )}
            <Button size="small" color="inherit" disabled={steps.length < 2} onClick={() => setSteps(steps.slice(0, -1))}>
              Take the last step back
            </Button>
          </Box>
        )}
        {plan && face === "loom" && wide && (
          <Box sx={{ height: 440, display: "flex", flexDirection: "column", mt: 1 }}>
            <Loom
              loom={importLoom(plan, settled, sure, show)}
              keep={40}
              label="Files loom"
              onFocus={() => undefined}
              onJoin={({ from, to, count }) => {
                const laid = laidOn(plan, settled, show, from, to, count);
                if (laid) settle(...laid);
                else say("A thread goes from a file to a track here.", "info");
              }}
              onPart={(from, to) => {
                const rest = takenOff(plan, settled, from, to);
                if (rest) settle(rest, []);
              }}
            />
          </Box>
        )}
        {plan && (face === "table" || !wide) && (
          <MatchTable
            plan={plan}
            convert={convert}
            chosen={settled}
            sure={sure}
            onChoose={choose}
            rateHz={show.sample_rate_hz}
            starts={starts}
            onStart={(file, frames) => setStarts({ ...starts, [file]: frames })}
            onListen={listen}
          />
        )}
        {plan && <LeftOver {...leftOver(plan, settled)} />}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
        <Button variant="contained" disabled={!plan || Object.keys(settled).length === 0} onClick={make}>
          Make it a take
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface Step {
  settled: Settled;
  sure: ReadonlySet<string>;
}

/** Said before it is made, so that nobody wonders later. */
function LeftOver({ silent, out }: { silent: string[]; out: string[] }) {
  return (
    <Box sx={{ mt: 1, color: "text.secondary" }}>
      {silent.length > 0 && <div>Stays silent, without a file: {silent.join(", ")}.</div>}
      {out.length > 0 && <div>Left out, without a track: {out.join(", ")}.</div>}
    </Box>
  );
}
