/** Where in a channel a signal can be taken, in signal order, and what it holds there. Pure. */
export const taps: readonly { key: string; words: string }[] = [
  { key: "raw", words: "the socket alone, for soundcheck" },
  { key: "in", words: "socket or return, as chosen" },
  { key: "pre-eq", words: "behind the feed, before the equaliser" },
  { key: "post-eq", words: "with the equaliser" },
  { key: "pre-fader", words: "with equaliser and dynamics" },
  { key: "post-fader", words: "as in the mix, every fader move" },
];

/** One line on the taps that are offered: "raw: the socket alone; post-fader: ...". */
export const tapsInWords = (offered: readonly string[]): string =>
  taps
    .filter(({ key }) => offered.includes(key))
    .map(({ key, words }) => `${key}: ${words}`)
    .join("; ");
