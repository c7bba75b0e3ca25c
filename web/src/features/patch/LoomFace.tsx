import { Alert, Box } from "@mui/material";
import { useCallback, useState } from "react";
import { ApiError, api, type Change, type Edit, type HistoryEntry, type Loom as LoomData } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { useShowPath } from "../../api/openShow";
import { useLoom, useTrace, useWhy } from "../../api/patch";
import { usePreview } from "../../api/show";
import type { Aim } from "../../ui/loom/HoldChip";
import { Loom } from "../../ui/loom/Loom";
import { useNotice } from "../../ui/notice";
import { ThreadSentence } from "../../ui/ThreadSentence";
import { useSettled } from "../../ui/useSettled";
import { useTouch } from "../../ui/useWidth";
import { MixLevels } from "./MixLevels";
import { PlaceSettings } from "./PlaceSettings";
import { RunsPanel } from "./RunsPanel";

interface Props {
  /** What the server calls the loom. */
  loom: string;
  desk: string | null;
  label: string;
  lit: string[];
  /** An edit to be shown on the loom before it is made. */
  shown: Edit | null;
  onShown: (edit: Edit | null) => void;
  runsOpen: boolean;
}

const NO_DESK = "There is no desk in this rig yet. Add one on the Rig step.";
const EMPTY = "The input list is empty. Write it as a sheet under Input list, or bring it in as CSV there.";
const REST_LOOKING = "Point at any place to follow its thread.";
const REST_TOUCH = "Tap any place to follow its thread. Drag a thread from knot to knot, or tap both ends; a swipe scrolls.";
const REST = "Point at any place to follow its thread. Drag a thread from place to place, or click both ends; ? lists the keys.";

/** One loom of the patch, what is said under it, and the runs over it. */
export function LoomFace({ loom: name, desk, label, lit, shown, onShown, runsOpen }: Props) {
  const loom = useLoom(name);
  const [focus, setFocus] = useState<string | null>(null);
  // A sentence with a mend stays until another place is pointed at, so that a hand can reach the button.
  const [pointed, setPointed] = useState<string | null>(null);
  const asked = useSettled(pointed);
  const [aim, setAim] = useState<Aim | null>(null);
  const dead =
    asked !== null &&
    loom.data?.posts.some((post) => post.knots.some((knot) => knot.id === asked && knot.row === null && post.key !== "row"));
  const trace = useTrace(useSettled(focus));
  const why = useWhy(dead ? asked : null);
  const preview = usePreview(shown ? { edit: shown, loom: name } : aim ? { ...aim, loom: name } : null);
  const join = useShowCommand("joins");
  const part = useShowCommand("partings");
  const cure = useShowCommand("mends");
  const edit = useShowCommand("edits");
  const { say } = useNotice();
  const path = useShowPath();
  const sayLost = useCallback(
    async (what: string) => {
      const newest = (await api.get<HistoryEntry[]>(path("history")).catch(() => []))[0];
      const by = newest && !newest.mine ? ` ${newest.who || "Another browser"}: "${newest.label}".` : "";
      say(`${what} is there no more, so it was let go.${by}`, "error");
    },
    [say, path],
  );
  // While a take runs a stray key takes nothing off.
  const recording = useFrame((frame) => frame.engine?.recording != null);
  const operates = useMay("operate");
  const touch = useTouch();
  const [mix, setMix] = useState<string | null>(null);
  const mend = operates && dead ? why.data?.mend : null;
  const refused = preview.error instanceof ApiError ? preview.error : null;
  const previewed = preview.data ? changesInWords(preview.data.changes) : preview.error?.message;
  return (
    <>
      {runsOpen && <RunsPanel desk={desk} at={asked} onPreview={onShown} />}
      <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        <Box sx={{ flex: 1, minWidth: 0, px: 2, overflow: "hidden" }}>
          {loom.error && <Alert severity="error">{loom.error.message}</Alert>}
          {loom.data && (
            <Loom
              loom={loom.data}
              shown={lit}
              label={label}
              empty={desk ? EMPTY : NO_DESK}
              preview={preview.data?.strands}
              onFocus={(id) => {
                setFocus(id);
                if (id) setPointed(id);
                // A scene that is shown goes as soon as one looks at something else.
                if (id && !runsOpen && shown) onShown(null);
              }}
              keysHeld={recording}
              {...(operates && {
                onAim: setAim,
                onJoin: ({ part: _, ...joined }: Aim) => join(joined),
                onPart: (from: string, to: string | null) => part(to ? { from, to } : { from }),
                onLost: sayLost,
                onRename: (id: string, name: string) =>
                  edit({ label: `Name of ${labelOf(loom.data, id)}`, edit: { kind: "rename", id, name } }),
              })}
            />
          )}
        </Box>
        {mix && <MixLevels key={mix} mix={mix} onClose={() => setMix(null)} />}
      </Box>
      <ThreadSentence
        sentence={previewed ?? (dead && why.data ? why.data.sentence : focus ? trace.data?.sentence : undefined)}
        broken={preview.error ? true : dead && why.data && !previewed ? !why.data.fine : undefined}
        mend={
          refused?.way
            ? { label: refused.way.label, onMend: () => refused.way && edit(refused.way) }
            : mend && !previewed
              ? { label: mend.label, onMend: () => cure({ key: mend.key }) }
              : undefined
        }
        rest={!operates ? REST_LOOKING : touch ? REST_TOUCH : REST}
      >
        {operates && <PlaceSettings at={asked} mix={mix} onMix={setMix} />}
      </ThreadSentence>
    </>
  );
}

const labelOf = (loom: LoomData | undefined, id: string): string =>
  loom?.posts.flatMap(({ knots }) => knots).find((knot) => knot.id === id)?.label ?? id;

const SAID = 3;

function changesInWords(changes: Change[]): string {
  if (changes.length === 0) return "Nothing would change.";
  const places = changes.reduce((sum, change) => sum + change.places.length, 0);
  const first = changes.slice(0, SAID).map(({ words }) => words);
  return `${places === 1 ? "One place" : `${places} places`} would change: ${first.join("; ")}${changes.length > SAID ? " …" : "."}`;
}
