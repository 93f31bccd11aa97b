// Dates here are local dates as the server gives them ("2026-03-25"); the server alone turns instants into local time.
const day = 86_400_000;

const format = (options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', ...options });
const withWeekday = format({ weekday: 'short', day: 'numeric', month: 'short' });
const plain = format({ day: 'numeric', month: 'short' });
const withYear = format({ day: 'numeric', month: 'short', year: 'numeric' });
const weekday = format({ weekday: 'short' });
const month = format({ month: 'long', year: 'numeric' });

const parse = (date: string) => Date.parse(`${date}T00:00:00Z`);
const write = (ms: number) => new Date(ms).toISOString().slice(0, 10);

export const addDays = (date: string, days: number) => write(parse(date) + days * day);
export const daysBetween = (from: string, to: string) => Math.round((parse(to) - parse(from)) / day);

/** 1 (Monday) to 7 (Sunday). */
export const weekdayOf = (date: string) => ((new Date(parse(date)).getUTCDay() + 6) % 7) + 1;
export const mondayOf = (date: string) => addDays(date, 1 - weekdayOf(date));

/** A date from the address bar, or null when it isn't one. */
export function readDate(text: string | null): string | null {
  if (!text || !/^\d{4}-\d{2}-\d{2}$/.test(text)) return null;
  const ms = parse(text);
  return Number.isNaN(ms) || write(ms) !== text ? null : text;
}

/** "Wed 25 Mar" */
export const dayWords = (date: string) => withWeekday.format(parse(date)).replace(',', '');
/** "25 Mar" */
export const shortDay = (date: string) => plain.format(parse(date));
/** "25 Mar 2026" */
export const longDay = (date: string) => withYear.format(parse(date));
/** "March 2026" */
export const monthWords = (date: string) => month.format(parse(date));
/** "Mar" */
export const monthWord = (date: string) =>
  plain.formatToParts(parse(date)).find((p) => p.type === 'month')?.value ?? '';
/** "Wed" */
export const weekdayWord = (date: string) => weekday.format(parse(date));
/** "07:45" from "07:45:00" */
export const clock = (time: string) => time.slice(0, 5);

export const weekdayNames = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;

/** "Mon, Wed, Fri", or "every day". */
export function daysWords(days: readonly number[]): string {
  if (days.length === 7) return 'every day';
  return days.map((d) => weekdayNames[d - 1]).join(', ');
}

/** An instant shown in a zone: "25 Mar 2026, 14:05"; with seconds where moments lie close together. */
export function instantWords(instant: string, zone: string, more: { second?: '2-digit' } = {}): string {
  const shown = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    ...more,
  });
  return shown.format(new Date(instant));
}

/** The day of an instant in a zone: "25 Mar 2026". */
export const instantDay = (instant: string, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(instant),
  );

/** "Dublin time", of Europe/Dublin. */
export const zoneWords = (zone: string) => `${zone.split('/').at(-1)?.replaceAll('_', ' ')} time`;
