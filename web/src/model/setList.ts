import { minutes } from "./format";

interface Entry {
  title: string;
  sample_rate_hz: number;
  playing_frames: number;
  listed: { after: string; wait_s: number; talk_s: number; break_s: number };
}

/** How long a set is: what plays, and that with what is said, waited for and rested between. */
export function setLength(songs: Entry[]): { music_s: number; all_s: number } {
  const music_s = songs.reduce((sum, song) => sum + song.playing_frames / song.sample_rate_hz, 0);
  // Behind the last one nobody waits or talks for another.
  const between_s = songs
    .slice(0, -1)
    .reduce((sum, { listed }) => sum + listed.talk_s + listed.break_s + (listed.after === "wait" ? listed.wait_s : 0), 0);
  return { music_s, all_s: music_s + between_s };
}

/** What happens at a song's end, as people say it. */
export function afterWords({ after, wait_s }: { after: string; wait_s: number }): string {
  return { go: "waits for Go", on: "goes on without a gap", wait: `goes on after ${wait_s} s` }[after] ?? "the set stops behind it";
}

/** What holds for a song on this evening only, in one line. */
export function listedWords(
  listed: Entry["listed"] & { arrangement: string | null; percent: number | null; key: string; trim_db: number; note: string },
): string {
  const { talk_s, break_s, arrangement, percent, key, trim_db, note } = listed;
  return [
    arrangement && `as ${arrangement}`,
    percent !== null && `at ${percent} %`,
    key && `in ${key}`,
    trim_db !== 0 && `${trim_db > 0 ? "+" : "−"}${Math.abs(trim_db)} dB`,
    talk_s > 0 && `talk ${minutes(talk_s)}`,
    break_s > 0 && `break ${minutes(break_s)}`,
    note,
  ]
    .filter(Boolean)
    .join(" · ");
}

/** What comes behind a song: the next one and how it begins. */
export function comesNext(following: Entry | undefined, listed: Entry["listed"] | undefined): string {
  if (!following) return "The last song of the set";
  if (listed?.after === "on") return `Next: ${following.title}, without a gap`;
  if (listed?.after === "wait") return `Next: ${following.title}, ${listed.wait_s} s behind it`;
  return `Next: ${following.title}, waits for Go`;
}
