import { useMediaQuery } from "@mui/material";
import { DESK_PX, TABLET_PX, WIDE_PX } from "../model/widths";

/** Three widths are designed: a phone in one hand, a tablet at the side, the desk. */
export type Width = "phone" | "tablet" | "desk";

/** Which of the three widths this page has now. */
export function useWidth(): Width {
  const tablet = useMediaQuery(`(min-width: ${TABLET_PX}px)`, { noSsr: true });
  const desk = useMediaQuery(`(min-width: ${DESK_PX}px)`, { noSsr: true });
  return desk ? "desk" : tablet ? "tablet" : "phone";
}

/** Whether there is room beside the page for two more at once. */
export const useRoomForBoth = (): boolean => useMediaQuery(`(min-width: ${WIDE_PX}px)`, { noSsr: true });

/** Whether fingers point here: then a place is as tall as a finger, and a swipe scrolls. */
export const useTouch = (): boolean => useMediaQuery("(pointer: coarse)", { noSsr: true });
