import { Alert, LinearProgress } from "@mui/material";
import { FolderPicker } from "./FolderPicker";

interface Props {
  /** Whether a folder of the recording computer is being chosen. */
  picking: boolean;
  onPicking: (on: boolean) => void;
  onFolder: (path: string) => void;
  progress: number | null;
  fault: string | null;
  /** What landed, or is there already. */
  files: { number: number; fault?: string | null }[];
}

/** What is told while files are brought to an import: where they come from, how far they are, and which cannot be read. */
export function Landing({ picking, onPicking, onFolder, progress, fault, files }: Props) {
  return (
    <>
      {picking && (
        <FolderPicker
          onPick={(folder) => {
            onPicking(false);
            onFolder(folder);
          }}
          onLeave={() => onPicking(false)}
        />
      )}
      {progress !== null && <LinearProgress variant="determinate" value={progress} sx={{ my: 1 }} aria-label="Bringing the files" />}
      {fault && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {fault}
        </Alert>
      )}
      {files
        .filter((file) => file.fault)
        .map((file) => (
          <Alert key={file.number} severity="warning" sx={{ mt: 1 }}>
            {file.fault}
          </Alert>
        ))}
    </>
  );
}
