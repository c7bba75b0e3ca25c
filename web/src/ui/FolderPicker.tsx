import { Alert, Box, Button, List, ListItemButton, Typography } from "@mui/material";
import { useState } from "react";
import { useFolders } from "../api/shelf";

/** Walks through the folders of the recording computer that something may be brought in from. */
export function FolderPicker({ onPick, onLeave }: { onPick: (path: string) => void; onLeave: () => void }) {
  const [path, setPath] = useState<string | null>(null);
  const folders = useFolders(path);
  const here = folders.data;
  return (
    <Box
      role="group"
      aria-label="Folders of the recording computer"
      sx={{ border: 1, borderColor: "divider", borderRadius: 1, p: 1, mt: 1 }}
    >
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Typography sx={{ flex: 1, fontSize: 13, overflow: "hidden", textOverflow: "ellipsis" }}>
          {here?.path ?? "Disks and folders that are allowed"}
          {here?.path && `, ${here.files} ${here.files === 1 ? "file" : "files"}`}
        </Typography>
        {here?.up != null && (
          <Button size="small" color="inherit" onClick={() => setPath(here.up || null)}>
            Up
          </Button>
        )}
        <Button size="small" color="inherit" onClick={onLeave}>
          Close
        </Button>
        <Button size="small" variant="contained" disabled={!here?.path || here.files === 0} onClick={() => here?.path && onPick(here.path)}>
          Take this folder
        </Button>
      </Box>
      {folders.error && <Alert severity="error">{folders.error.message}</Alert>}
      {here && here.folders.length === 0 && (
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {here.path ? "No folder in it." : "No disk is mounted; whoever set this machine up can allow folders (docs/install.md)."}
        </Typography>
      )}
      <List dense sx={{ maxHeight: 180, overflow: "auto", py: 0 }}>
        {here?.folders.map((folder) => (
          <ListItemButton key={folder.path} onClick={() => setPath(folder.path)}>
            {folder.name}
          </ListItemButton>
        ))}
      </List>
    </Box>
  );
}
