import { addDays, dayWords, longDay, mondayOf, monthWords, shortDay } from '../time/dates';

export const views = [
  { value: 'lanes', label: 'Week' },
  { value: 'list', label: 'Line-up' },
  { value: 'day', label: 'Day' },
  { value: 'fortnight', label: 'Fortnight' },
  { value: 'month', label: 'Month' },
  { value: 'year', label: 'Year' },
  { value: 'posts', label: 'List' },
  { value: 'wall', label: 'Wall' },
] as const;

export type View = (typeof views)[number]['value'];

export const readView = (value: string | null): View => views.find((v) => v.value === value)?.value ?? 'lanes';

/** How far ahead a picture channel's page is shown, in days. */
export const wallAhead = 55;

/** Days of the look-ahead list. */
export const ahead = 14;

/** Both included. `title` heads the view; `step` names what the arrows go on by. */
export interface Span {
  from: string;
  to: string;
  title: string;
  step: string;
  before: string;
  after: string;
}

const monthStart = (date: string) => `${date.slice(0, 7)}-01`;
const monthsOn = (date: string, months: number) => {
  const at = new Date(`${monthStart(date)}T00:00:00Z`);
  at.setUTCMonth(at.getUTCMonth() + months);
  return at.toISOString().slice(0, 10);
};
const range = (from: string, to: string) => `${shortDay(from)} to ${longDay(to)}`;

/** What a view shows around a date. */
export function spanOf(view: View, on: string, today: string): Span {
  const monday = mondayOf(on);
  const weeks = (count: number, step: string): Span => {
    const to = addDays(monday, count * 7 - 1);
    return {
      from: monday,
      to,
      title: range(monday, to),
      step,
      before: addDays(monday, -count * 7),
      after: addDays(monday, count * 7),
    };
  };
  switch (view) {
    case 'lanes':
      return weeks(1, 'week');
    case 'fortnight':
      return weeks(2, 'fortnight');
    case 'posts':
      return weeks(4, 'four weeks');
    case 'day':
      return {
        from: on,
        to: on,
        title: `${dayWords(on)} ${on.slice(0, 4)}`,
        step: 'day',
        before: addDays(on, -1),
        after: addDays(on, 1),
      };
    case 'month': {
      const first = monthStart(on);
      return {
        from: mondayOf(first),
        to: addDays(mondayOf(addDays(monthsOn(first, 1), -1)), 6),
        title: monthWords(on),
        step: 'month',
        before: monthsOn(on, -1),
        after: monthsOn(on, 1),
      };
    }
    case 'year': {
      const year = Number(on.slice(0, 4));
      return {
        from: `${year}-01-01`,
        to: `${year}-12-31`,
        title: String(year),
        step: 'year',
        before: `${year - 1}-06-01`,
        after: `${year + 1}-06-01`,
      };
    }
    case 'wall':
      // As far back as pictures may be opened from, and as far ahead as the page is shown.
      return {
        from: addDays(today, -28),
        to: addDays(today, wallAhead),
        title: 'As followers will see it',
        step: '',
        before: today,
        after: today,
      };
    case 'list':
      return {
        from: today,
        to: addDays(today, ahead - 1),
        title: 'The line-up',
        step: '',
        before: today,
        after: today,
      };
  }
}

export const daysOf = ({ from, to }: { from: string; to: string }) => {
  const days: string[] = [];
  for (let day = from; day <= to; day = addDays(day, 1)) days.push(day);
  return days;
};
