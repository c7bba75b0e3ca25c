import Close from "@mui/icons-material/Close";
import { Box, IconButton, MenuItem, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { SendTable } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useSendTable } from "../../api/patch";
import { useShow } from "../../api/show";
import { editOf } from "../../model/sendTable";
import { useNotice } from "../../ui/notice";

/** What one mix is made of, beside the loom: what is sent, how loud and from where. */
export function MixLevels({ mix, onClose }: { mix: string; onClose: () => void }) {
  const table = useSendTable(mix);
  const lines = (table.data?.lines ?? []).map((send, line) => ({ send, line })).filter(({ send }) => send.level_db !== null);
  return (
    <Box
      component="section"
      aria-label={`Levels of ${table.data?.label ?? "the mix"}`}
      sx={{ width: 330, flexShrink: 0, borderLeft: 1, borderColor: "divider", bgcolor: "background.paper", p: 1.25, overflow: "auto" }}
    >
      <Box sx={{ display: "flex", alignItems: "center", mb: 0.5 }}>
        <Typography component="h3" variant="h2" sx={{ flex: 1 }}>
          {table.data?.label}
        </Typography>
        <IconButton size="small" aria-label="Close levels" onClick={onClose}>
          <Close fontSize="small" />
        </IconButton>
      </Box>
      {table.data && lines.length === 0 && (
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          Nothing is sent here yet: lay a thread from a channel to it.
        </Typography>
      )}
      {table.data && lines.map(({ send, line }) => <SendLine key={send.id} table={table.data} send={send} line={line} />)}
    </Box>
  );
}

function SendLine({ table, send, line }: { table: SendTable; send: SendTable["lines"][number]; line: number }) {
  const edit = useShowCommand("edits");
  const version = useShow().data?.version ?? 1;
  const { say } = useNotice();
  const [level, setLevel] = useState(String(send.level_db));
  useEffect(() => setLevel(String(send.level_db)), [send.level_db]);
  function write(key: "level_db" | "tap", value: string) {
    const made = editOf(table, [{ row: line, key, value }]);
    if ("fault" in made) say(made.fault, "error");
    else edit({ label: `${key === "tap" ? "Tap" : "Level"} of ${send.label} in ${table.label}`, edit: made.edit, version });
  }
  const keep = () => level.trim() !== String(send.level_db) && write("level_db", level.trim());
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 64px 108px", gap: 0.75, alignItems: "center", py: 0.4 }}>
      <Box sx={{ minWidth: 0, fontSize: 13, lineHeight: 1.2 }}>
        {send.label}
        <Box sx={{ color: "text.secondary", fontSize: 12.5, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
          {send.carries}
        </Box>
      </Box>
      <TextField
        size="small"
        value={level}
        slotProps={{ htmlInput: { "aria-label": `Level of ${send.label}, dB`, inputMode: "decimal", sx: { px: 1, textAlign: "right" } } }}
        onChange={({ target }) => setLevel(target.value)}
        onKeyDown={({ key }) => {
          if (key === "Enter") keep();
          else if (key === "Escape") setLevel(String(send.level_db));
        }}
        onBlur={keep}
      />
      <TextField
        select
        size="small"
        value={send.tap ?? ""}
        slotProps={{ htmlInput: { "aria-label": `Tap of ${send.label}` } }}
        onChange={({ target }) => write("tap", target.value)}
      >
        {send.taps.map((tap) => (
          <MenuItem key={tap} value={tap}>
            {tap}
          </MenuItem>
        ))}
      </TextField>
    </Box>
  );
}
