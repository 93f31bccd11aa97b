import { useContext } from 'react';
import { dayWords, shortDay } from '../time/dates';
import { KeyDateLine } from './KeyDateMark';
import { comingKey, KeyDateContext } from './keyDates';

/** The key dates of what is shown, by day, for views that don't show each day by itself; from one and up to another, where no more is shown. */
export function KeyDateList({
  from = null,
  until = null,
  isNarrow = false,
}: {
  from?: string | null;
  until?: string | null;
  isNarrow?: boolean;
}) {
  const keyDates = useContext(KeyDateContext).keyDates.filter(
    (k) => (from === null || k.date >= from) && (until === null || k.date <= until),
  );
  if (keyDates.length === 0) return null;
  return (
    <ul
      aria-label="Key dates"
      className={`mb-3 grid gap-x-4 gap-y-1 ${isNarrow ? 'mt-5' : 'grid-cols-[repeat(auto-fill,minmax(16rem,1fr))]'}`}
    >
      {keyDates.map((k) => (
        <li key={comingKey(k)} className="flex items-center gap-2">
          <span className="w-20 shrink-0 text-faded text-sm" title={dayWords(k.date)}>
            {shortDay(k.date)}
          </span>
          <span className="min-w-0 flex-1">
            <KeyDateLine keyDate={k} />
          </span>
        </li>
      ))}
    </ul>
  );
}
