import { Alert, Box, Button, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type AtDoor, api } from "../../api/client";

/** What a device sees that was not let in: where to write the code, and what it is called. */
export function EnterCode() {
  const [code, setCode] = useState("");
  const [name, setName] = useState("");
  const enter = useMutation({
    mutationFn: () => api.post<AtDoor>("/api/door", { code: code.trim(), name: name.trim() }),
    // Whoever is let in begins anew: nothing of before was this device's.
    onSuccess: () => window.location.reload(),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <Box component="main" sx={{ minHeight: "100vh", display: "grid", placeItems: "center", p: 2 }}>
      <Box component="form" onSubmit={submit} sx={{ display: "flex", flexDirection: "column", gap: 2, width: "100%", maxWidth: 360 }}>
        <Typography component="h1" sx={{ fontSize: 22, fontWeight: 700 }}>
          Loomshuttle
        </Typography>
        <Typography>This device is not let in. Ask at the desk for a code: six digits, good for five minutes.</Typography>
        <TextField
          label="Code"
          value={code}
          autoFocus
          onChange={({ target }) => setCode(target.value.replace(/\D/g, "").slice(0, 6))}
          slotProps={{
            htmlInput: { inputMode: "numeric", autoComplete: "one-time-code", style: { fontSize: 28, letterSpacing: "0.3em" } },
          }}
        />
        <TextField
          label="What this device is called"
          placeholder="Phone of the stage manager"
          value={name}
          onChange={({ target }) => setName(target.value.slice(0, 60))}
        />
        {enter.error && <Alert severity="error">{enter.error.message}</Alert>}
        <Button type="submit" variant="contained" size="large" disabled={code.length !== 6 || name.trim() === "" || enter.isPending}>
          Go in
        </Button>
      </Box>
    </Box>
  );
}
