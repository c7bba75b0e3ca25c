import { Alert, Snackbar } from "@mui/material";
import { createContext, type ReactNode, useContext, useMemo, useState } from "react";

type Kind = "error" | "info" | "success";
const Notices = createContext<{ say: (text: string, kind?: Kind) => void }>({ say: () => undefined });

/** Lets any part of the page say one sentence. */
export const useNotice = () => useContext(Notices);

export function NoticeBoard({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<{ text: string; kind: Kind } | null>(null);
  const board = useMemo(() => ({ say: (text: string, kind: Kind = "info") => setNotice({ text, kind }) }), []);
  return (
    <Notices.Provider value={board}>
      {children}
      <Snackbar open={notice !== null} autoHideDuration={9000} onClose={(_, why) => why !== "clickaway" && setNotice(null)}>
        <Alert severity={notice?.kind ?? "info"} variant="filled" onClose={() => setNotice(null)} sx={{ maxWidth: 640 }}>
          {notice?.text}
        </Alert>
      </Snackbar>
    </Notices.Provider>
  );
}
