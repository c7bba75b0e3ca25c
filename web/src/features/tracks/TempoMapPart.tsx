import CloseIcon from "@mui/icons-material/Close";
import {
  Alert,
  Box,
  Button,
  Checkbox,
  IconButton,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { api, type WholeSong } from "../../api/client";
import { type Section, withSection } from "../../model/sections";
import { type Change, changesOf, mapOf, type TempoMap, typedMeter, withMeter, withTempo } from "../../model/tempoMap";
import { FileButton } from "../../ui/FileButton";
import { useNotice } from "../../ui/notice";

/** What was heard of a click stem. */
interface Heard {
  stem: string;
  bpm: number;
  first_frame: number;
  stray_ms: number;
  clicks: number;
}

/** A click that strays further is no even row. */
const STRAYS_MS = 5;

interface Props {
  song: WholeSong;
  onEdit: (label: string, change: { tempo?: TempoMap | null; sections?: Section[]; bpm?: number; bar_1_frame?: number }) => void;
}

/** Where tempo and time signature change: typed, or read from a MIDI file. */
export function TempoMapPart({ song, onEdit }: Props) {
  const map = mapOf(song);
  const { say } = useNotice();
  const [bar, setBar] = useState("");
  const read = async (file: File | undefined) => {
    if (!file) return;
    try {
      const found = await api.send<{ tempo: TempoMap; bars: number; markers: { bar: number; label: string }[] }>(
        `/api/library/songs/${song.id}/tempo`,
        file,
        "audio/midi",
      );
      onEdit(`Tempo of ${file.name}`.slice(0, 200), {
        tempo: found.tempo,
        // Its markers are sections where the song has none yet.
        ...(found.markers.length > 0 && song.sections.length === 0
          ? { sections: found.markers.reduce<Section[]>((all, { bar, label }) => withSection(all, bar, label), []) }
          : {}),
      });
    } catch (error) {
      say(error instanceof Error ? error.message : String(error), "error");
    }
  };
  const clickStem = song.stems.some(({ role }) => role.startsWith("click"));
  const [heard, setHeard] = useState<Heard | null>(null);
  const listen = async () => {
    try {
      setHeard(await api.get<Heard>(`/api/library/songs/${song.id}/tempo/heard`));
    } catch (error) {
      say(error instanceof Error ? error.message : String(error), "error");
    }
  };
  const wanted = Number(bar);
  const fresh = map && Number.isInteger(wanted) && wanted > 1 && wanted <= 20_000;
  const add = () => {
    const before = map?.tempi.filter((tempo) => tempo.bar <= wanted).at(-1);
    if (!map || !fresh || !before) return;
    onEdit(`A change at bar ${wanted}`, {
      tempo: withTempo(map, wanted, Number(changesOf({ ...map, tempi: [before] })[0]?.bpm ?? 120), false),
    });
    setBar("");
  };
  return (
    <Box component="section" aria-label="Tempo and time signature" sx={{ mt: 2 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography component="h3" sx={{ fontWeight: 700, flex: 1 }}>
          Tempo and time signature
        </Typography>
        {clickStem && (
          <Button size="small" color="inherit" onClick={listen}>
            Find it from the click stem
          </Button>
        )}
        <FileButton files="MIDI file" accept=".mid,.midi,audio/midi" size="small" color="inherit" onFiles={([file]) => read(file)}>
          Read a MIDI file
        </FileButton>
        {map && (
          <Button size="small" variant="outlined" color="inherit" component="a" href={`/api/library/songs/${song.id}/tempo`} download>
            Save as a MIDI file
          </Button>
        )}
      </Box>
      {heard && (
        <Alert
          severity={heard.stray_ms > STRAYS_MS ? "warning" : "info"}
          onClose={() => setHeard(null)}
          action={
            <Button
              color="inherit"
              size="small"
              onClick={() => {
                onEdit(`Tempo of the stem ${heard.stem}: ${heard.bpm}`.slice(0, 200), { bpm: heard.bpm, bar_1_frame: heard.first_frame });
                setHeard(null);
              }}
            >
              Take it
            </Button>
          }
        >
          {heard.clicks} clicks, {heard.bpm} a minute, the first at {Math.round((heard.first_frame / song.sample_rate_hz) * 1000)} ms; the
          furthest strays {heard.stray_ms} ms{heard.stray_ms > STRAYS_MS ? ": it changes its tempo, or is no even click" : ""}.
        </Alert>
      )}
      {!map && <Typography color="text.secondary">Without a tempo the song has neither bars nor a click.</Typography>}
      {map && (
        <Table size="small" aria-label="Changes of tempo and time signature">
          <TableHead>
            <TableRow>
              <TableCell>From bar</TableCell>
              <TableCell>Tempo, bpm</TableCell>
              <TableCell>Evenly to the next</TableCell>
              <TableCell>Time signature</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {changesOf(map).map((change) => (
              <ChangeRow
                key={`${change.bar} ${change.within}`}
                change={change}
                onTempo={(bpm, ramp) =>
                  onEdit(bpm === null ? `No other tempo at bar ${change.bar}` : `Tempo at bar ${change.bar}: ${bpm}`, {
                    tempo: withTempo(map, change.bar, bpm, ramp),
                  })
                }
                onMeter={(meter) =>
                  onEdit(meter === null ? `The same time signature at bar ${change.bar}` : `${meter} at bar ${change.bar}`, {
                    tempo: withMeter(map, change.bar, meter),
                  })
                }
                onRemove={() =>
                  onEdit(`No change at bar ${change.bar}`, {
                    tempo: withMeter(withTempo(map, change.bar, null, false), change.bar, null),
                  })
                }
              />
            ))}
          </TableBody>
        </Table>
      )}
      {map && (
        <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
          <TextField
            size="small"
            label="A change at bar"
            value={bar}
            onChange={({ target }) => setBar(target.value)}
            onKeyDown={({ key }) => key === "Enter" && add()}
            sx={{ width: 130 }}
          />
          <Button size="small" variant="outlined" color="inherit" disabled={!fresh} onClick={add}>
            Add
          </Button>
        </Box>
      )}
    </Box>
  );
}

interface RowProps {
  change: Change;
  onTempo: (bpm: number | null, ramp: boolean) => void;
  onMeter: (meter: string | null) => void;
  onRemove: () => void;
}

function ChangeRow({ change, onTempo, onMeter, onRemove }: RowProps) {
  const { bar, within, bpm, meter, ramp } = change;
  const fixed = within !== 0;
  return (
    <TableRow>
      <TableCell>{fixed ? `${bar}, ${Math.round(within * 1000) / 1000} quarters in` : bar}</TableCell>
      <TableCell>
        <Cell
          label={`Tempo at bar ${bar}`}
          text={bpm === null ? "" : String(Math.round(bpm * 1000) / 1000)}
          fixed={fixed}
          empty={bar !== 1}
          read={(text) => {
            const number = Number(text.replace(",", "."));
            return number >= 5 && number <= 999 ? number : null;
          }}
          onKeep={(value) => onTempo(value, ramp)}
        />
      </TableCell>
      <TableCell>
        <Checkbox
          size="small"
          checked={ramp}
          disabled={fixed || bpm === null}
          onChange={(_, on) => bpm !== null && onTempo(bpm, on)}
          slotProps={{ input: { "aria-label": `Evenly from bar ${bar} to the next tempo` } }}
        />
      </TableCell>
      <TableCell>
        {!fixed && (
          <Cell
            label={`Time signature at bar ${bar}`}
            text={meter ?? ""}
            fixed={false}
            empty={bar !== 1}
            read={typedMeter}
            onKeep={onMeter}
          />
        )}
      </TableCell>
      <TableCell>
        {bar !== 1 && !fixed && (
          <IconButton size="small" aria-label={`No change at bar ${bar}`} onClick={onRemove}>
            <CloseIcon fontSize="small" />
          </IconButton>
        )}
      </TableCell>
    </TableRow>
  );
}

interface CellProps<Value> {
  label: string;
  text: string;
  fixed: boolean;
  /** Whether it may be emptied, which keeps null. */
  empty: boolean;
  read: (text: string) => Value | null;
  onKeep: (value: Value | null) => void;
}

/** Kept when it is left; what cannot be read stays red and is not kept. */
function Cell<Value>({ label, text, fixed, empty, read, onKeep }: CellProps<Value>) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = typed !== null && !(empty && typed.trim() === "") && read(typed) === null;
  const keep = () => {
    if (typed !== null && !wrong && typed !== text) onKeep(typed.trim() === "" ? null : read(typed));
    if (!wrong) setTyped(null);
  };
  return (
    <TextField
      size="small"
      variant="standard"
      value={typed ?? text}
      disabled={fixed}
      error={wrong}
      placeholder={empty ? "as before" : ""}
      onChange={({ target }) => setTyped(target.value)}
      onBlur={keep}
      onKeyDown={({ key }) => (key === "Enter" ? keep() : key === "Escape" && setTyped(null))}
      slotProps={{ htmlInput: { "aria-label": label } }}
      sx={{ width: 90 }}
    />
  );
}
