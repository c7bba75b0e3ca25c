import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Snackbar } from "@mui/material";
import { createContext, type ReactNode, useContext, useMemo, useState } from "react";

type Kind = "error" | "info" | "success";
interface Board {
  say: (text: string, kind?: Kind) => void;
  /** Asks before something is done that would hurt; `yes` is done when it is wanted all the same. */
  ask: (text: string, yes: () => void) => void;
}
const Notices = createContext<Board>({ say: () => undefined, ask: () => undefined });

/** Lets any part of the page say one sentence, or ask one question. */
export const useNotice = () => useContext(Notices);

export function NoticeBoard({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<{ text: string; kind: Kind } | null>(null);
  const [question, setQuestion] = useState<{ text: string; yes: () => void } | null>(null);
  const board = useMemo<Board>(
    () => ({ say: (text, kind = "info") => setNotice({ text, kind }), ask: (text, yes) => setQuestion({ text, yes }) }),
    [],
  );
  return (
    <Notices.Provider value={board}>
      {children}
      <Snackbar open={notice !== null} autoHideDuration={9000} onClose={(_, why) => why !== "clickaway" && setNotice(null)}>
        <Alert severity={notice?.kind ?? "info"} variant="filled" onClose={() => setNotice(null)} sx={{ maxWidth: 640 }}>
          {notice?.text}
        </Alert>
      </Snackbar>
      <Dialog open={question !== null} onClose={() => setQuestion(null)}>
        <DialogTitle>A take is running</DialogTitle>
        <DialogContent>{question?.text}</DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setQuestion(null)} autoFocus>
            Leave it
          </Button>
          <Button
            color="error"
            onClick={() => {
              question?.yes();
              setQuestion(null);
            }}
          >
            Do it all the same
          </Button>
        </DialogActions>
      </Dialog>
    </Notices.Provider>
  );
}
