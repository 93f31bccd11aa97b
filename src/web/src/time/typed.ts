import { addDays, readDate, weekdayOf } from './dates';

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const days = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];

/**
 * Reads a date as people type it: "2026-03-25", "25 Mar", "Wed 25 March 2026", "today", "tomorrow", "fri".
 * Day and month as bare numbers are not guessed at. A day without a year is the next such day from `today` on.
 */
export function readTypedDate(text: string, today: string): string | null {
  const words = text.trim().toLowerCase().replace(/[,.]/g, ' ').split(/\s+/).filter(Boolean);
  if (words.length === 1) {
    const word = words[0] ?? '';
    if (word === 'today') return today;
    if (word === 'tomorrow') return addDays(today, 1);
    const weekday = days.indexOf(word.slice(0, 3)) + 1;
    if (weekday > 0 && /^[a-z]+$/.test(word)) return addDays(today, ((weekday - weekdayOf(today) + 6) % 7) + 1);
    return readDate(word);
  }
  const rest = days.includes((words[0] ?? '').slice(0, 3)) ? words.slice(1) : words;
  const [first = '', second = '', year = ''] = rest;
  const dayFirst = /^\d{1,2}$/.test(first);
  const day = Number(dayFirst ? first : second);
  const month = months.indexOf((dayFirst ? second : first).slice(0, 3)) + 1;
  if (rest.length > 3 || month === 0 || !Number.isInteger(day)) return null;
  const write = (y: number) => readDate(`${y}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`);
  if (year) return /^\d{4}$/.test(year) ? write(Number(year)) : null;
  const thisYear = Number(today.slice(0, 4));
  const date = write(thisYear);
  return date && date < today ? write(thisYear + 1) : date;
}

/** Reads a time as people type it: "14:30", "9", "0930", "2.30 pm". Gives "HH:mm", or null. */
export function readTypedTime(text: string): string | null {
  const match = /^(\d{1,2})(?:[:.h]?(\d{2}))?\s*(am|pm)?$/i.exec(text.trim());
  if (!match) return null;
  const half = match[3]?.toLowerCase();
  let hour = Number(match[1]);
  const minute = Number(match[2] ?? 0);
  if (half && (hour < 1 || hour > 12)) return null;
  if (half) hour = (hour % 12) + (half === 'pm' ? 12 : 0);
  if (hour > 23 || minute > 59) return null;
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}
