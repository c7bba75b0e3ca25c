import {
  Alert,
  Box,
  Button,
  FormControlLabel,
  MenuItem,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type LetIn, type May, type ShownCode, type WayIn } from "../../api/client";
import { useDevicesLetIn, useWay } from "../../api/door";
import { ago } from "../../model/format";
import { DialogButton } from "../../ui/DialogButton";

const MAY: { key: May; label: string }[] = [
  { key: "look", label: "look" },
  { key: "stage", label: "look, check lines and mark" },
  { key: "operate", label: "patch, record, play and swing" },
  { key: "lead", label: "do everything, and let others in" },
];

/** Who gets in from the venue's network: where, with which code, and who is in. */
export function LetInButton() {
  return (
    <DialogButton title="Let others in" maxWidth="md">
      {() => <Door />}
    </DialogButton>
  );
}

function Door() {
  const way = useWay();
  const devices = useDevicesLetIn();
  const open = (way.data?.open.length ?? 0) > 0;
  return (
    <>
      {way.error && <Alert severity="error">{way.error.message}</Alert>}
      {way.data && <Where way={way.data} />}
      {/* A code that has let somebody in is none any more. */}
      {open && <Code key={devices.data?.length} />}
      <WhoIsIn />
    </>
  );
}

function Where({ way }: { way: WayIn }) {
  const client = useQueryClient();
  const set = useMutation({
    mutationFn: (addresses: string[]) => api.put<WayIn>("/api/door/way", { addresses }),
    onSuccess: (now) => client.setQueryData(["door", "way"], now),
  });
  const open = way.open.length > 0;
  return (
    <Box component="section" aria-label="Where" sx={{ display: "flex", gap: 3, alignItems: "flex-start", mb: 2 }}>
      <Box sx={{ flex: 1 }}>
        {way.addresses.length === 0 && (
          <Alert severity="info">This machine is on no network. Connect it to the venue's, then open this again.</Alert>
        )}
        {way.addresses.length > 0 && (
          <FormControlLabel
            control={<Switch checked={open} disabled={set.isPending} onChange={(_, on) => set.mutate(on ? way.addresses : [])} />}
            label={open ? "Others may come in by this machine's addresses" : "Nobody but this machine gets in"}
          />
        )}
        {way.urls.map((url) => (
          <Typography key={url} className="figures" sx={{ fontSize: 20, fontWeight: 700 }}>
            {url}
          </Typography>
        ))}
        {!open && way.addresses.length > 0 && (
          <Typography color="text.secondary" sx={{ fontSize: 13, mt: 0.5 }}>
            Phones and tablets on the venue's network come in with a code each, and may do what you say. Recording, playing and the pages on
            this machine go on whether the door is open or not.
          </Typography>
        )}
        {open && (
          <Typography color="text.secondary" sx={{ fontSize: 13, mt: 0.5 }}>
            A browser that comes for the first time says that it does not know who signed for this page: it was this installation. A device
            that takes its certificate, the second picture, knows it from then on.
          </Typography>
        )}
        {way.fault && (
          <Alert severity="error" sx={{ mt: 1 }}>
            Nobody gets in yet. {way.fault}
          </Alert>
        )}
        {set.error && <Alert severity="error">{set.error.message}</Alert>}
      </Box>
      {way.open[0] && <Picture address={way.open[0]} what="page" label="The page" />}
      {way.open[0] && <Picture address={way.open[0]} what="certificate" label="Its certificate" />}
    </Box>
  );
}

/** An address as a picture that a device's camera reads. */
function Picture({ address, what, label }: { address: string; what: "page" | "certificate"; label: string }) {
  return (
    <Box component="figure" sx={{ m: 0, textAlign: "center", fontSize: 13 }}>
      <img
        src={`/api/door/way/${address}/${what}.svg`}
        alt={`${label}, as a QR code`}
        width={140}
        height={140}
        style={{ background: "#fff" }}
      />
      <figcaption>{label}</figcaption>
    </Box>
  );
}

function Code() {
  const [may, setMay] = useState<May>("stage");
  const show = useMutation({ mutationFn: () => api.post<ShownCode>("/api/door/codes", { may }) });
  const until = show.data && new Date(show.data.ends_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
  return (
    <Box component="section" aria-label="Code" sx={{ display: "flex", gap: 2, alignItems: "center", mb: 2, minHeight: 56 }}>
      <TextField
        select
        size="small"
        label="The next device may"
        value={may}
        onChange={({ target }) => setMay(target.value as May)}
        sx={{ width: 280 }}
      >
        {MAY.map(({ key, label }) => (
          <MenuItem key={key} value={key}>
            {label}
          </MenuItem>
        ))}
      </TextField>
      <Button variant="contained" onClick={() => show.mutate()} disabled={show.isPending}>
        {show.data ? "Another code" : "Show a code"}
      </Button>
      {show.data && (
        <Typography role="status" sx={{ lineHeight: 1.2 }}>
          <span className="figures" style={{ fontSize: 34, fontWeight: 700, letterSpacing: "0.12em" }}>
            {show.data.code}
          </span>
          <br />
          <Typography component="span" color="text.secondary" sx={{ fontSize: 13 }}>
            one device, until {until}
          </Typography>
        </Typography>
      )}
      {show.error && <Alert severity="error">{show.error.message}</Alert>}
    </Box>
  );
}

function WhoIsIn() {
  const devices = useDevicesLetIn();
  const client = useQueryClient();
  const lay = (all: LetIn) => client.setQueryData(["door", "devices"], all);
  const change = useMutation({
    mutationFn: ({ id, may }: { id: number; may: May }) => api.put<LetIn>(`/api/door/devices/${id}`, { may }),
    onSuccess: lay,
  });
  const takeOut = useMutation({ mutationFn: (id: number) => api.delete<LetIn>(`/api/door/devices/${id}`), onSuccess: lay });
  const fault = change.error ?? takeOut.error ?? devices.error;
  if (fault) return <Alert severity="error">{fault.message}</Alert>;
  if (!devices.data) return null;
  if (devices.data.length === 0) return <Typography color="text.secondary">No device has been let in yet.</Typography>;
  return (
    <Table size="small" aria-label="Devices that were let in">
      <TableHead>
        <TableRow>
          <TableCell>Device</TableCell>
          <TableCell>May</TableCell>
          <TableCell>Last heard</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {devices.data.map((device) => (
          <TableRow key={device.id} data-device={device.name}>
            <TableCell>{device.name}</TableCell>
            <TableCell>
              <TextField
                select
                size="small"
                value={device.may}
                onChange={({ target }) => change.mutate({ id: device.id, may: target.value as May })}
                slotProps={{ htmlInput: { "aria-label": `What ${device.name} may` } }}
              >
                {MAY.map(({ key, label }) => (
                  <MenuItem key={key} value={key}>
                    {label}
                  </MenuItem>
                ))}
              </TextField>
            </TableCell>
            <TableCell className="figures">{ago(device.seen_at, Date.now())}</TableCell>
            <TableCell align="right">
              <Button color="error" size="small" onClick={() => takeOut.mutate(device.id)}>
                Take out
              </Button>
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
