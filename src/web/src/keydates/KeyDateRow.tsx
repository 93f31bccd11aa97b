import { useContext } from 'react';
import { mondayOf, shortDay } from '../time/dates';
import { KindMark } from './KeyDateMark';
import { comingKey, KeyDateContext } from './keyDates';

/** The key dates of a year over its weeks: a pennant where one begins; where several do, they stand one over the other. */
export function KeyDateRow({ mondays }: { mondays: readonly string[] }) {
  const { keyDates, kinds, onOpen } = useContext(KeyDateContext);
  if (keyDates.length === 0) return null;
  const byWeek = Map.groupBy(keyDates, (k) => mondayOf(k.date));
  return (
    <>
      <span className="self-end border-rule border-b py-1 text-sm">Key dates</span>
      <div className="flex items-end self-stretch border-rule border-b">
        {mondays.map((monday) => (
          <span key={monday} className="flex min-w-0 flex-1 flex-col items-center justify-end">
            {(byWeek.get(monday) ?? []).slice(0, 4).map((k) => (
              <button
                key={comingKey(k)}
                type="button"
                data-key-date={k.title}
                aria-label={`${k.title}, ${shortDay(k.date)}`}
                title={`${k.title}, ${shortDay(k.date)}`}
                onClick={() => onOpen(comingKey(k))}
                className="-mx-1 flex min-h-[24px] min-w-[24px] items-center justify-center rounded-sm text-[0.7rem] hover:bg-wash"
              >
                <KindMark kind={kinds.get(k.kindId)} />
              </button>
            ))}
          </span>
        ))}
      </div>
      <span className="self-end border-rule border-b py-1 pl-3 text-sm">
        <b className="font-head">{keyDates.length}</b>
      </span>
    </>
  );
}
