import { Alert, Box, Button, MenuItem, TextField } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import type { Finding, Knot, Loom } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useMay } from "../../api/may";
import { useLoom, useTrace, useWhy } from "../../api/patch";
import { useShow } from "../../api/show";
import { threadAndMistakes } from "../../model/loom";
import { FoundLine } from "../../ui/findings/FoundLine";
import { Swatch } from "../../ui/Swatch";

interface Props {
  /** What the server calls the loom whose places are listed. */
  loom: string;
  lit: string[];
}

/** A loom where there is no room for its threads: one post at a time, each place with its way and what is found at it. */
export function PlaceList({ loom: name, lit }: Props) {
  const loom = useLoom(name);
  const [chosen, setChosen] = useState<string | null>(null);
  const [search, setSearch] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const posts = loom.data?.posts ?? [];
  const post = posts.find(({ key }) => key === chosen) ?? posts[0];
  // What a finding shows is opened where it stands.
  useEffect(() => {
    const at = loom.data?.posts.find(({ knots }) => knots.some(({ id }) => lit.includes(id)));
    if (!at) return;
    setChosen(at.key);
    setSearch("");
    setOpen(at.knots.find(({ id }) => lit.includes(id))?.id ?? null);
  }, [lit, loom.data]);
  const carried = useMemo(() => carriedIn(loom.data), [loom.data]);
  const found = useShow().data?.findings.filter(({ accepted }) => !accepted) ?? [];
  /** What is found anywhere on a place's thread: whoever looks at a source wants to know what becomes of it. */
  const findings = (id: string) => {
    if (!loom.data || found.length === 0) return [];
    const thread = threadAndMistakes(loom.data, id);
    return found.filter(({ endpoints }) => endpoints.some((one) => thread.has(one)));
  };
  const wanted = search.trim().toLowerCase();
  const knots = (post?.knots ?? []).filter(
    (knot) => knot.present && (!wanted || `${knot.label} ${knot.name ?? ""} ${carried.get(knot.id) ?? ""}`.toLowerCase().includes(wanted)),
  );
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: "flex", flexDirection: "column" }}>
      {loom.error && <Alert severity="error">{loom.error.message}</Alert>}
      <Box sx={{ display: "flex", gap: 1, px: 1.25, py: 0.75 }}>
        <TextField
          select
          size="small"
          label="Look at"
          value={post?.key ?? ""}
          sx={{ flex: 1 }}
          onChange={({ target }) => setChosen(target.value)}
        >
          {posts.map(({ key, title }) => (
            <MenuItem key={key} value={key}>
              {title}
            </MenuItem>
          ))}
        </TextField>
        <TextField size="small" label="Find" value={search} sx={{ flex: 1 }} onChange={({ target }) => setSearch(target.value)} />
      </Box>
      <Box role="list" aria-label={post?.title} sx={{ flex: 1, overflow: "auto", px: 1.25 }}>
        {knots.map((knot) => (
          <PlaceLine
            key={knot.id}
            knot={knot}
            findings={findings(knot.id)}
            carries={knot.row === knot.id ? "" : (carried.get(knot.id) ?? "")}
            open={open === knot.id}
            onOpen={() => setOpen(open === knot.id ? null : knot.id)}
          />
        ))}
        {post && knots.length === 0 && (
          <Box sx={{ color: "text.secondary", p: 1 }}>
            {wanted ? `Nothing here is called "${search.trim()}".` : "Nothing stands here yet."}
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** What runs in each place, by its name in the list. */
function carriedIn(loom: Loom | undefined): Map<string, string> {
  const knots = loom?.posts.flatMap((post) => post.knots) ?? [];
  const labels = new Map(knots.map(({ id, label }) => [id, label]));
  return new Map(knots.flatMap(({ id, row }) => (row === null ? [] : [[id, labels.get(row) ?? ""]])));
}

interface LineProps {
  knot: Knot;
  carries: string;
  findings: Finding[];
  open: boolean;
  onOpen: () => void;
}

function PlaceLine({ knot, carries, findings, open, onOpen }: LineProps) {
  return (
    <Box role="listitem" data-place={knot.id} sx={{ borderBottom: 1, borderColor: "divider" }}>
      <FoundLine
        findings={findings}
        open={open}
        onOpen={onOpen}
        head={
          <>
            <Box sx={{ width: 6, height: 32, flexShrink: 0 }}>
              {knot.row !== null && <Swatch colour={knot.colour} stitch={knot.stitch} />}
            </Box>
            <Box sx={{ minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
              {knot.id.startsWith("list/") ? `${knot.number} ${knot.label}` : knot.label}
              {knot.name && !knot.label.includes(knot.name) && `, ${knot.name}`}
              <Box component="span" sx={{ color: "text.secondary" }}>
                {carries && ` · ${carries}`}
              </Box>
            </Box>
          </>
        }
      >
        <Way id={knot.id} live={knot.row !== null || knot.id.startsWith("list/")} />
      </FoundLine>
    </Box>
  );
}

/** Which way a place's signal goes; or where it stops, why, and what would mend it. */
function Way({ id, live }: { id: string; live: boolean }) {
  const trace = useTrace(live ? id : null);
  const why = useWhy(live ? null : id);
  const cure = useShowCommand("mends");
  const operates = useMay("operate");
  const mend = why.data?.mend;
  const sentence = live ? trace.data?.sentence : why.data?.sentence;
  return (
    <Box
      data-testid="sentence"
      sx={{ pl: 1.5, mb: 1, borderLeft: 3, borderColor: why.data && !why.data.fine ? "error.main" : "divider", fontSize: 14 }}
    >
      {sentence ?? trace.error?.message ?? why.error?.message ?? "…"}
      {mend && operates && (
        <Button variant="contained" sx={{ display: "block", mt: 0.75 }} onClick={() => cure({ key: mend.key })}>
          {mend.label}
        </Button>
      )}
    </Box>
  );
}
