/** From so wide on there is room for a tablet's page, and for the desk's, in pixels. Pure. */
export const TABLET_PX = 700;
export const DESK_PX = 1200;
/** Here the desk's page holds findings and a panel beside what they are about. */
export const WIDE_PX = 1500;
