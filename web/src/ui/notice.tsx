import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Snackbar } from "@mui/material";
import { createContext, type ReactNode, useContext, useMemo, useState } from "react";

type Kind = "error" | "info" | "success";
/** What can be done about what is said. */
interface Act {
  label: string;
  onAct: () => void;
}

/** A question, and the word on the button that says yes. */
interface Question {
  title: string;
  text: string;
  yes: string;
}

interface Board {
  say: (text: string, kind?: Kind, act?: Act) => void;
  /** Asks before something is done that would hurt; `yes` is done when it is wanted all the same. */
  ask: (question: Question, yes: () => void) => void;
}
const Notices = createContext<Board>({ say: () => undefined, ask: () => undefined });

/** Lets any part of the page say one sentence, or ask one question. */
export const useNotice = () => useContext(Notices);

export function NoticeBoard({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<{ text: string; kind: Kind; act?: Act } | null>(null);
  const [question, setQuestion] = useState<{ asked: Question; yes: () => void } | null>(null);
  const board = useMemo<Board>(
    () => ({
      say: (text, kind = "info", act) => setNotice({ text, kind, ...(act ? { act } : {}) }),
      ask: (asked, yes) => setQuestion({ asked, yes }),
    }),
    [],
  );
  return (
    <Notices.Provider value={board}>
      {children}
      <Snackbar open={notice !== null} autoHideDuration={9000} onClose={(_, why) => why !== "clickaway" && setNotice(null)}>
        <Alert severity={notice?.kind ?? "info"} variant="filled" onClose={() => setNotice(null)} sx={{ maxWidth: 640 }}>
          {notice?.text}
          {notice?.act && (
            <Button
              size="small"
              color="inherit"
              variant="outlined"
              sx={{ ml: 1.5 }}
              onClick={() => {
                notice.act?.onAct();
                setNotice(null);
              }}
            >
              {notice.act.label}
            </Button>
          )}
        </Alert>
      </Snackbar>
      <Dialog open={question !== null} onClose={() => setQuestion(null)}>
        <DialogTitle>{question?.asked.title}</DialogTitle>
        <DialogContent>{question?.asked.text}</DialogContent>
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
            {question?.asked.yes}
          </Button>
        </DialogActions>
      </Dialog>
    </Notices.Provider>
  );
}
