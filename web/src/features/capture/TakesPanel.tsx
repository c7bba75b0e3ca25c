import { Alert, Box, Button, List, ListItemButton, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Take, Verified } from "../../api/client";
import { useCommand } from "../../api/command";
import { useMay } from "../../api/may";
import { useShowPath } from "../../api/openShow";
import { useTakes } from "../../api/takes";
import { clock, decibels } from "../../model/format";
import { useWidth } from "../../ui/useWidth";
import { TakeCloth } from "./TakeCloth";

/** Everything that was recorded for this show, and what became of it. */
export function TakesPanel({ show }: { show: Show }) {
  const phone = useWidth() === "phone";
  const [shown, setShown] = useState(50);
  const takes = useTakes(shown);
  const [chosen, setChosen] = useState<number | null>(null);
  const list = takes.data?.takes ?? [];
  const older = (takes.data?.count ?? 0) - list.length;
  const take = list.find(({ id }) => id === chosen) ?? list[0];
  if (takes.error) return <Alert severity="error">{takes.error.message}</Alert>;
  if (!take)
    return (
      <Typography color="text.secondary" sx={{ px: 2 }}>
        No take yet. Start one, and it is listed here with its marks, its levels and its files.
      </Typography>
    );
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: "flex", flexDirection: phone ? "column" : "row", gap: 1.5, px: phone ? 1.25 : 2, pb: 1 }}>
      <List
        component="div"
        dense
        aria-label="Takes"
        sx={{ width: phone ? "100%" : 190, maxHeight: phone ? 150 : "none", flexShrink: 0, overflow: "auto", py: 0 }}
      >
        {list.map((one) => (
          <ListItemButton key={one.id} selected={one.id === take.id} onClick={() => setChosen(one.id)} sx={{ display: "block", px: 1 }}>
            <strong>{one.name}</strong>
            <Box sx={{ fontSize: 12.5, color: one.state === "closed" ? "text.secondary" : "error.main" }}>
              {one.state === "closed"
                ? clock(one.frames / one.sample_rate_hz)
                : one.state === "waiting"
                  ? "broken off, waits"
                  : "being recorded"}
              {one.breaks.length > 0 && " · broken off"}
            </Box>
          </ListItemButton>
        ))}
        {older > 0 && (
          <Button size="small" color="inherit" onClick={() => setShown((count) => Math.min(count + 50, 200))}>
            {older} older
          </Button>
        )}
      </List>
      <TakeDetail key={take.id} take={take} show={show} />
    </Box>
  );
}

function TakeDetail({ take, show }: { take: Take; show: Show }) {
  const amend = useCommand(`takes/${take.id}/amend`, "takes", take.name);
  const verify = useCommand<Verified>(`takes/${take.id}/verify`, "takes");
  const over = useCommand(`takes/${take.id}/over`, "takes");
  const rename = useCommand(`takes/${take.id}/rename`, "takes", `A track of ${take.name}`);
  const [heard, setHeard] = useState<string | null>(null);
  const path = useShowPath();
  const closed = take.state === "closed";
  const operates = useMay("operate");
  const mayName = operates && take.origin === "recorded";
  return (
    <Box sx={{ flex: 1, minWidth: 0, overflow: "auto", display: "flex", flexDirection: "column", gap: 1 }}>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center", pt: 1 }}>
        <Typed label="Name" value={take.name} disabled={!mayName} onKeep={(name) => name && amend.mutate({ name })} width={220} />
        <Typed label="Notes" value={take.notes} disabled={!mayName} onKeep={(notes) => amend.mutate({ notes })} width={300} />
        {operates && (
          <Button size="small" variant="outlined" color="inherit" disabled={!closed || verify.isPending} onClick={() => verify.mutate({})}>
            {verify.isPending ? "Checking the files" : "Check the files"}
          </Button>
        )}
        {operates && (
          <Button size="small" variant="outlined" color="inherit" disabled={!closed} onClick={() => over.mutate({})}>
            Record over it
          </Button>
        )}
      </Box>
      {verify.data && <VerifiedLine verified={verify.data} />}
      <Report take={take} />
      <TakeCloth take={take} show={show} heard={heard} onHear={setHeard} />
      {closed && heard !== null && (
        // biome-ignore lint/a11y/useMediaCaption: music without words to caption
        <audio
          key={heard}
          controls
          autoPlay
          src={path(`takes/${take.id}/audio${heard === "mix" ? "" : `?track=${encodeURIComponent(heard)}`}`)}
          aria-label={heard === "mix" ? "Rough mix" : `One track of ${take.name}`}
          style={{ width: "100%", height: 36 }}
        />
      )}
      {heard !== null && heard !== "mix" && mayName && (
        <Typed
          key={`name of ${heard}`}
          label="Name of this track; its files follow"
          value={take.files.find(({ track }) => track === heard)?.name ?? ""}
          onKeep={(name) => name && rename.mutate({ track: heard, name })}
          width={300}
        />
      )}
      <Marks take={take} onMark={mayName ? (mark) => amend.mutate({ mark }) : null} />
    </Box>
  );
}

/** What a take's files say of themselves: highest peak, clips, longest silence, gaps, losses. */
function Report({ take }: { take: Take }) {
  const rate = take.sample_rate_hz;
  const clips = take.files.filter((file) => (file.report.clips ?? 0) > 0);
  const silent = take.files.filter((file) => (file.report.silence_s ?? 0) * rate >= file.frames && file.frames > 0);
  const loud = take.files.reduce((top, file) => Math.max(top, file.report.peak_dbfs ?? -150), -150);
  const parts = [
    `${clock(take.frames / rate)}, ${new Set(take.files.map(({ track }) => track)).size} tracks in ${new Set(take.files.map(({ file }) => file)).size} files`,
    take.files.some((file) => file.report.peak_dbfs !== undefined) ? `highest peak ${decibels(loud)} dBFS` : "",
    clips.length > 0 ? `clipped: ${clips.map(({ name }) => name).join(", ")}` : "",
    silent.length > 0 ? `silent throughout: ${silent.map(({ name }) => name).join(", ")}` : "",
    take.lost_frames > 0 ? `${(take.lost_frames / rate).toFixed(2)} s lost and filled with silence` : "nothing lost",
    ...take.breaks.map(
      (one) => `broken off at ${clock(one.frame / rate)}${one.gap_frames ? `, ${(one.gap_frames / rate).toFixed(1)} s missing` : ""}`,
    ),
    take.copy ? `second copy in ${take.copy}` : "",
    take.reason ?? "",
  ];
  return <Typography sx={{ fontSize: 13 }}>{parts.filter(Boolean).join(" · ")}</Typography>;
}

function VerifiedLine({ verified }: { verified: Verified }) {
  const bad = [...verified.files, ...verified.copies].filter(({ fine }) => !fine);
  return (
    <Alert severity={verified.fine ? "success" : "error"} sx={{ py: 0 }}>
      {verified.fine
        ? `${verified.files.length} files${verified.copies.length > 0 ? ` and ${verified.copies.length} of the copy` : ""}: length, header and checksum are as they were written.`
        : bad.map(({ file, faults }) => `${file}: ${faults.join("; ")}`).join(" · ")}
    </Alert>
  );
}

/** Marks are set with one key and named later. */
function Marks({ take, onMark }: { take: Take; onMark: ((mark: { id: string; label?: string; gone?: boolean }) => void) | null }) {
  if (take.marks.length === 0 && take.patches.length === 0) return null;
  return (
    <Box component="ul" aria-label="Marks" sx={{ m: 0, p: 0, listStyle: "none", fontSize: 13 }}>
      {take.marks.map((mark, at) => (
        <Box component="li" key={mark.id} sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.25 }}>
          <Box sx={{ width: 70 }}>{clock(mark.frame / take.sample_rate_hz)}</Box>
          <Typed
            label={`Mark ${at + 1}`}
            value={mark.label ?? ""}
            disabled={!onMark}
            onKeep={(label) => onMark?.({ id: mark.id ?? "", label })}
            width={260}
          />
          {onMark && (
            <Button size="small" color="inherit" onClick={() => onMark({ id: mark.id ?? "", gone: true })}>
              Take it out
            </Button>
          )}
        </Box>
      ))}
      {take.patches.map((patch) => (
        <Box component="li" key={`${patch.frame}${patch.words}`} sx={{ color: "text.secondary", py: 0.25 }}>
          {clock(patch.frame / take.sample_rate_hz)} patch changed: {patch.words}
        </Box>
      ))}
    </Box>
  );
}

interface TypedProps {
  label: string;
  value: string;
  width: number;
  disabled?: boolean;
  onKeep: (text: string) => void;
}

/** A text that is kept when it is left, or at Enter. */
function Typed({ label, value, width, disabled = false, onKeep }: TypedProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    if (typed !== null && typed.trim() !== value) onKeep(typed.trim());
    setTyped(null);
  };
  return (
    <TextField
      size="small"
      label={label}
      value={typed ?? value}
      disabled={disabled}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => key === "Enter" && keep()}
      sx={{ width, maxWidth: "100%" }}
    />
  );
}
