import { Button } from "@mui/material";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";

/** How long a hand must stay on it: long enough to be meant, short enough for a hurry. */
const HOLD_MS = 900;

/** A button that only acts when it is held: no stray key or tap does it. Held by pointer, Enter or Space. */
export function HoldButton({ label, onHeld }: { label: string; onHeld: () => void }) {
  const [since, setSince] = useState<number | null>(null);
  const [share, setShare] = useState(0);
  const act = useRef(onHeld);
  act.current = onHeld;

  useEffect(() => {
    if (since === null) return setShare(0);
    const timer = setInterval(() => {
      const now = Math.min(1, (performance.now() - since) / HOLD_MS);
      setShare(now);
      if (now < 1) return;
      setSince(null);
      act.current();
    }, 50);
    return () => clearInterval(timer);
  }, [since]);

  const begin = () => setSince(performance.now());
  const end = () => setSince(null);
  // A key that is held repeats itself: only its first press counts.
  const keyDown = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    if (!event.repeat) begin();
  };
  return (
    <Button
      variant="outlined"
      color="error"
      size="large"
      onPointerDown={begin}
      onPointerUp={end}
      onPointerLeave={end}
      onKeyDown={keyDown}
      onKeyUp={end}
      onBlur={end}
      // A finger that rests asks for no menu and scrolls nothing.
      onContextMenu={(event) => event.preventDefault()}
      sx={{ minWidth: 160, touchAction: "none", userSelect: "none" }}
      style={{ backgroundImage: `linear-gradient(to right, rgba(217,98,79,.45) ${share * 100}%, transparent ${share * 100}%)` }}
    >
      {label}
    </Button>
  );
}
