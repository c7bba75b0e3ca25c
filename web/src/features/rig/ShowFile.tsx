import { Button } from "@mui/material";
import { useShowPath } from "../../api/openShow";
import { Templates } from "./Templates";

/** Saves the show as a file, or its rig as a template; both begin other shows. */
export function ShowFile() {
  const path = useShowPath();
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" href={path("file")} download>
        Save the show
      </Button>
      <Templates />
    </>
  );
}
