/** From so wide on there is room for a tablet's page, and for the desk's, in pixels. Pure. */
export const TABLET_PX = 700;
export const DESK_PX = 1200;
