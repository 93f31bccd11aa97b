import { useId, useState } from 'react';
import { readTypedTime } from '../time/typed';

interface Props {
  id?: string;
  'aria-label'?: string;
  value: string;
  onChange: (time: string) => void;
  className?: string;
}

const halfHours = Array.from(
  { length: 48 },
  (_, i) => `${String(Math.floor(i / 2)).padStart(2, '0')}:${i % 2 ? '30' : '00'}`,
);

/** A time of day, typed freely or taken from the half-hour grid. */
export function TimeField({ value, onChange, className = '', ...rest }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const list = useId();
  const wrong = typed !== null && readTypedTime(typed) === null;
  return (
    <>
      <input
        {...rest}
        list={list}
        className={`field !w-24 ${className}`}
        autoComplete="off"
        inputMode="numeric"
        aria-invalid={wrong || undefined}
        title={wrong ? 'Write it as 14:30' : undefined}
        value={typed ?? value}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setTyped(event.target.value);
          const time = readTypedTime(event.target.value);
          if (time) onChange(time);
        }}
        onBlur={() => !wrong && setTyped(null)}
      />
      <datalist id={list}>
        {halfHours.map((time) => (
          <option key={time} value={time} />
        ))}
      </datalist>
    </>
  );
}
