/** What each step does without the desk's control line, and what it cannot. Steps that are not here need none. */
const WITHOUT: Record<string, string> = {
  rig: "Gear and cables are planned without it. What the desk itself has is not read.",
  patch:
    "The patch is planned, traced, checked and printed without it; set it at the desk by hand, from the sheets on Paper. Sending it and reading what the desk has need the line.",
  "line-check": "Levels of the card's lanes are shown without it; those of channels that no lane carries need the line.",
  outputs: "Outputs are planned, traced and checked without it; set them at the desk by hand, from the sheets on Paper.",
  soundcheck:
    "Takes play without it. Turn the desk's channels by hand, as the plan here says, and back before anybody plays; the page then shows the plan, not the desk. Turning them from here and the desk's levels need the line.",
  tracks: "Songs and click play without it. The lanes and returns that they come on are set at the desk by hand.",
};

export const withoutDesk = (step: string): string | null => WITHOUT[step] ?? null;
