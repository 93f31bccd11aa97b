import { useContext } from 'react';
import { dayWords, shortDay } from '../time/dates';
import { KeyDateLine } from './KeyDateMark';
import { comingKey, KeyDateContext } from './keyDates';

/** The key dates of what is shown, by day, for views that don't show each day by itself. */
export function KeyDateList() {
  const { keyDates } = useContext(KeyDateContext);
  if (keyDates.length === 0) return null;
  return (
    <ul aria-label="Key dates" className="mb-3 grid grid-cols-3 gap-x-4 gap-y-1">
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
