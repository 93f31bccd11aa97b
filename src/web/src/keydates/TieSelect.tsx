import { addDays, daysBetween, shortDay } from '../time/dates';
import { Field } from '../ui/Field';
import { Select } from '../ui/Select';
import { comingKey, useKeyDates } from './keyDates';

/** So many days around a delivery its key dates are looked for. */
const reach = 60;

interface Props {
  /** Of the delivery. */
  date: string;
  /** Key of a coming; empty: none. */
  value: string;
  /** The title of what is chosen, which may lie further away. */
  title?: string | undefined;
  hint?: string;
  onChange: (key: string) => void;
}

/** "3 days before", as a delivery on one date stands to a key date on another. */
export function distanceWords(from: string, to: string): string {
  const days = daysBetween(from, to);
  if (days === 0) return 'on the day';
  const many = Math.abs(days) === 1 ? 'the day' : `${Math.abs(days)} days`;
  return days < 0 ? `${many} before` : `${many} after`;
}

/** The key date that something stands relative to: those nearby, the nearest first. */
export function TieSelect({ date, value, title, hint, onChange }: Props) {
  const near = useKeyDates(date ? addDays(date, -reach) : null, date ? addDays(date, reach) : null).data ?? [];
  if (near.length === 0 && value === '') return null;
  const options = near
    .toSorted((a, b) => Math.abs(daysBetween(a.date, date)) - Math.abs(daysBetween(b.date, date)))
    .map((k) => ({ value: comingKey(k), label: `${k.title}, ${shortDay(k.date)}: ${distanceWords(k.date, date)}` }));
  const isFar = value !== '' && !options.some((o) => o.value === value);
  return (
    <Field label="Stands relative to" hint={hint}>
      {(id, below) => (
        <Select
          id={id}
          aria-describedby={below}
          value={value}
          none="No key date"
          options={isFar ? [{ value, label: title ?? 'A key date that is far' }, ...options] : options}
          onChange={onChange}
        />
      )}
    </Field>
  );
}
