import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { createContext, type ReactNode, useContext, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";

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

interface Notice {
  text: string;
  kind: Kind;
  act?: Act;
}
const Said = createContext<{ notice: Notice | null; onGone: () => void }>({ notice: null, onGone: () => undefined });
/** So long a sentence stands there, in milliseconds. */
const STANDS_MS = 9000;

/** Lets any part of the page say one sentence, or ask one question. */
export const useNotice = () => useContext(Notices);

export function NoticeBoard({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const [question, setQuestion] = useState<{ asked: Question; yes: () => void } | null>(null);
  const board = useMemo<Board>(
    () => ({
      say: (text, kind = "info", act) => setNotice({ text, kind, ...(act ? { act } : {}) }),
      ask: (asked, yes) => setQuestion({ asked, yes }),
    }),
    [],
  );
  const said = useMemo(() => ({ notice, onGone: () => setNotice(null) }), [notice]);
  return (
    <Notices.Provider value={board}>
      <Said.Provider value={said}>{children}</Said.Provider>
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

/**
 * Where a page has its sentence said: a line of its own, so that it covers nothing, and what is open over the page makes
 * room for it. It goes by itself.
 */
export function NoticeLine() {
  const { notice, onGone } = useContext(Said);
  const line = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(onGone, STANDS_MS);
    return () => clearTimeout(timer);
  }, [notice, onGone]);
  useLayoutEffect(() => {
    const top = notice ? line.current?.getBoundingClientRect().top : undefined;
    document.body.style.setProperty("--notice", top === undefined ? "0px" : `${window.innerHeight - top}px`);
  }, [notice]);
  if (!notice) return null;
  return (
    <Alert
      ref={line}
      severity={notice.kind}
      variant="filled"
      square
      onClose={onGone}
      sx={{ flexShrink: 0, py: 0, alignItems: "center", position: "relative", zIndex: "tooltip" }}
    >
      {notice.text}
      {notice.act && (
        <Button
          size="small"
          color="inherit"
          variant="outlined"
          sx={{ ml: 1.5 }}
          onClick={() => {
            notice.act?.onAct();
            onGone();
          }}
        >
          {notice.act.label}
        </Button>
      )}
    </Alert>
  );
}
