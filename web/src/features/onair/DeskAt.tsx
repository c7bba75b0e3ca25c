import { Alert, Button, List, ListItemButton, ListItemText, Stack, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type DeskAt as At, api, type FoundDesk } from "../../api/client";
import { useMachine } from "../../api/live";
import { useDeskAt } from "../../api/machine";
import { May } from "../../ui/May";

/** Which desk is spoken to: its address, whether it answers, and another one, typed or found by a search of the network. */
export function DeskAt({ onOther }: { onOther: () => void }) {
  const at = useDeskAt();
  const answers = useMachine((frame) => frame.desk.answers);
  const [changing, setChanging] = useState(false);
  if (!at.data) return null;
  return changing ? (
    <OtherDesk now={at.data.address} onSpoken={onOther} onDone={() => setChanging(false)} />
  ) : (
    <Stack direction="row" spacing={1} sx={{ alignItems: "baseline", mb: 1 }}>
      <Typography>
        Desk at <span className="figures">{at.data.address}</span>, {answers ? "it answers." : "it does not answer."}
      </Typography>
      <May what="lead">
        <Button size="small" onClick={() => setChanging(true)}>
          Another desk
        </Button>
      </May>
    </Stack>
  );
}

function OtherDesk({ now, onSpoken, onDone }: { now: string; onSpoken: () => void; onDone: () => void }) {
  const [address, setAddress] = useState(now);
  const client = useQueryClient();
  const search = useMutation({ mutationFn: () => api.get<{ found: FoundDesk[] }>("/api/desk/search") });
  const aim = useMutation({
    mutationFn: (wanted: string) => api.put<At>("/api/desk", { address: wanted.trim() }),
    onSuccess: (at) => {
      client.setQueryData(["desk-at"], at);
      client.invalidateQueries({ queryKey: ["on-air"] });
      onSpoken();
      onDone();
    },
  });
  const found = search.data?.found;
  const fault = aim.error ?? search.error;
  const speak = (event: FormEvent) => {
    event.preventDefault();
    aim.mutate(address);
  };
  return (
    <Stack component="form" spacing={1} sx={{ pt: 1, mb: 1 }} onSubmit={speak}>
      <Stack direction="row" spacing={1}>
        <TextField
          label="The desk's address"
          placeholder="192.168.1.20:7600"
          size="small"
          fullWidth
          autoFocus
          value={address}
          onChange={({ target }) => setAddress(target.value)}
        />
        <Button onClick={() => search.mutate()} disabled={search.isPending} sx={{ flexShrink: 0 }}>
          Look for desks
        </Button>
      </Stack>
      <Typography color="text.secondary" sx={{ fontSize: 13 }} role="status">
        {search.isPending ? "Looking…" : words(found)}
      </Typography>
      {found && found.length > 0 && (
        <List dense disablePadding aria-label="Desks that answer">
          {found.map((desk) => (
            <ListItemButton key={desk.address} selected={desk.address === address.trim()} onClick={() => setAddress(desk.address)}>
              <ListItemText primary={desk.name} />
              <span className="figures">{desk.address}</span>
            </ListItemButton>
          ))}
        </List>
      )}
      {fault && <Alert severity="error">{fault.message}</Alert>}
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" disabled={aim.isPending || address.trim() === ""}>
          Speak to this desk
        </Button>
        <Button color="inherit" onClick={onDone}>
          Keep the one of before
        </Button>
      </Stack>
    </Stack>
  );
}

function words(found: FoundDesk[] | undefined) {
  if (found === undefined) return "An IPv4 address and a port. Nothing is sent to that desk until a direction is chosen.";
  if (found.length === 0) return "No desk answered. Type its address.";
  return found.length === 1 ? "One desk answers:" : `${found.length} desks answer:`;
}
