import { useContext } from 'react';
import { clock, dayWords } from '../time/dates';
import { comingKey, type KeyDate, KeyDateContext, type KeyDateKind, useKeyDatesOn } from './keyDates';

/** A pennant in a kind's colour with its mark. */
export function KindMark({ kind }: { kind: KeyDateKind | undefined }) {
  return (
    <span aria-hidden="true" className="inline-flex shrink-0 items-center gap-0.5 font-head font-semibold">
      <svg aria-hidden="true" viewBox="0 0 10 12" width="9" height="11">
        <path d="M1.5 0V12" stroke="var(--ink)" strokeWidth="1.2" />
        <path d="M2 1L10 4.5L2 8Z" fill={kind?.colour ?? 'var(--faded)'} />
      </svg>
      {kind?.mark}
    </span>
  );
}

interface OnProps {
  day: string;
  most?: number;
  /** True: beside the day's name, where there is little room. */
  isShort?: boolean;
}

/** The key dates that touch a day, each opened by a press. */
export function KeyDatesOn({ day, most = 3, isShort = false }: OnProps) {
  const all = useKeyDatesOn(day);
  return (
    <>
      {all.slice(0, most).map((keyDate) => (
        <KeyDateLine key={comingKey(keyDate)} keyDate={keyDate} day={day} isShort={isShort} />
      ))}
      {all.length > most && (
        <span
          className="shrink-0 px-1 text-[0.75rem] text-faded"
          title={all
            .slice(most)
            .map((k) => k.title)
            .join(', ')}
        >
          {isShort ? `+${all.length - most}` : `and ${all.length - most} more`}
        </span>
      )}
    </>
  );
}

export function KeyDateLine({ keyDate, day, isShort = false }: { keyDate: KeyDate; day?: string; isShort?: boolean }) {
  const { kinds, onOpen } = useContext(KeyDateContext);
  const kind = kinds.get(keyDate.kindId);
  const goesOn = day !== undefined && keyDate.date < day;
  const words = [
    keyDate.time && !goesOn ? clock(keyDate.time) : null,
    keyDate.isLive ? (keyDate.isDone ? 'done' : 'to be done by somebody') : null,
    keyDate.outOfStep > 0 ? `${keyDate.outOfStep} haven’t followed` : null,
  ].filter((w) => w !== null);
  return (
    <button
      type="button"
      data-key-date={keyDate.title}
      title={[kind?.name, keyDate.title, ...words].filter(Boolean).join(', ')}
      onClick={() => onOpen(comingKey(keyDate))}
      className="flex min-h-[24px] w-full min-w-[24px] items-center gap-1 rounded-sm bg-wash/70 px-1 text-left text-[0.8rem] leading-tight hover:bg-wash print:bg-transparent"
    >
      <KindMark kind={kind} />
      <span className={`min-w-0 truncate ${goesOn ? 'text-faded' : ''}`}>
        {keyDate.title}
        {goesOn && <span className="sr-only"> goes on, since {dayWords(keyDate.date)}</span>}
      </span>
      {keyDate.outOfStep > 0 ? (
        <span className="ml-auto shrink-0 font-semibold text-bad">
          <span aria-hidden="true">⇄ {keyDate.outOfStep}</span>
          <span className="sr-only">, {keyDate.outOfStep} haven’t followed</span>
        </span>
      ) : (
        keyDate.time &&
        !goesOn &&
        !isShort && <span className="ml-auto shrink-0 text-faded">{clock(keyDate.time)}</span>
      )}
    </button>
  );
}
