import { useContext } from 'react';
import { KeyDatesOn } from '../keydates/KeyDateMark';
import { KeyDateContext } from '../keydates/keyDates';

/** Days from one on in their order, each with what is on it; days that have a key date alone, too. */
export function useDays<T>(
  all: readonly T[],
  dayOf: (one: T) => string,
  from: string,
): readonly (readonly [string, readonly T[]])[] {
  const { keyDates } = useContext(KeyDateContext);
  const byDay = Map.groupBy(all, dayOf);
  const days = [...new Set([...byDay.keys(), ...keyDates.map((k) => k.date).filter((d) => d >= from)])].sort();
  return days.map((day) => [day, byDay.get(day) ?? []] as const);
}

/** The key dates of a day, beside its name. */
export const BesideDay = ({ day }: { day: string }) => (
  <span className="ml-2 inline-flex max-w-full gap-1 align-middle font-normal font-text">
    <KeyDatesOn day={day} isShort />
  </span>
);
