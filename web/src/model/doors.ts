/** From so many minutes before the doors on everybody is reminded, then more loudly. */
const REMIND_MIN = 30;
const LOUD_MIN = 10;

export interface Reminder {
  words: string;
  /** 1 quiet, 2 loud, 3 too late. */
  loudness: 1 | 2 | 3;
}

/** What every page says while a desk is on the recorder; null while there is time, or nothing to be in time for. */
export function reminder(doorsAt: string | null, now: Date): Reminder | null {
  if (!doorsAt) return null;
  const minutes = (new Date(doorsAt).getTime() - now.getTime()) / 60_000;
  // Doors of yesterday remind nobody.
  if (minutes > REMIND_MIN || minutes < -12 * 60) return null;
  const at = timeOfDay(new Date(doorsAt));
  if (minutes <= 0) return { words: `The doors opened at ${at}, and the desk still listens to the recorder.`, loudness: 3 };
  const left = Math.ceil(minutes);
  return {
    words: `Doors at ${at}, in ${left} ${left === 1 ? "minute" : "minutes"}: the desk still listens to the recorder.`,
    loudness: minutes <= LOUD_MIN ? 2 : 1,
  };
}

export const timeOfDay = (at: Date): string => `${String(at.getHours()).padStart(2, "0")}:${String(at.getMinutes()).padStart(2, "0")}`;

/** The next time that a clock shows "19:30". */
export function nextAt(time: string, now: Date): Date {
  const [hours, minutes] = time.split(":").map(Number);
  const at = new Date(now);
  at.setHours(hours ?? 0, minutes ?? 0, 0, 0);
  if (at <= now) at.setDate(at.getDate() + 1);
  return at;
}
