import { Button, Dialog, DialogActions, DialogContent, type DialogProps, DialogTitle } from "@mui/material";
import { type ReactNode, useState } from "react";

interface Props {
  /** On the button and over the dialog. */
  title: string;
  maxWidth?: DialogProps["maxWidth"];
  /** What stands side by side in it rather than under each other. */
  columns?: boolean;
  children: (close: () => void) => ReactNode;
}

/** A button with the dialog that it opens; what is in it is made only while it is open. */
export function DialogButton({ title, maxWidth = "sm", columns = false, children }: Props) {
  const [open, setOpen] = useState(false);
  const close = () => setOpen(false);
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        {title}
      </Button>
      <Dialog open={open} onClose={close} fullWidth maxWidth={maxWidth}>
        <DialogTitle>{title}</DialogTitle>
        <DialogContent sx={columns ? { display: "flex", gap: 3, "&&": { pt: 1 } } : undefined}>{children(close)}</DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={close}>
            Close
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
