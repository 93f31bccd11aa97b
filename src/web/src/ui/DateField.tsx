import { useState } from 'react';
import { addDays, longDay, mondayOf, monthWords, shortDay, weekdayNames, weekdayWord } from '../time/dates';
import { readTypedDate } from '../time/typed';
import { Popover } from './Popover';

interface Props {
  id?: string;
  'aria-label'?: string;
  value: string;
  today: string;
  onChange: (date: string) => void;
  className?: string;
}

/** A date: typed in plain words, or chosen from a month. It always shows the month by name. */
export function DateField({ value, today, onChange, className = '', ...rest }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const wrong = typed !== null && readTypedDate(typed, today) === null;
  const leave = () => {
    const date = typed === null ? null : readTypedDate(typed, today);
    if (date) onChange(date);
    if (!wrong) setTyped(null);
  };
  return (
    <div className={`relative ${className}`}>
      <input
        {...rest}
        className="field !pr-8"
        autoComplete="off"
        aria-invalid={wrong || undefined}
        title={wrong ? 'Write it as 25 Mar 2026' : undefined}
        value={typed ?? `${weekdayWord(value)} ${longDay(value)}`}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setTyped(event.target.value);
          const date = readTypedDate(event.target.value, today);
          if (date) onChange(date);
        }}
        onBlur={leave}
      />
      <Popover
        label="Choose a day"
        open={open}
        onOpenChange={setOpen}
        trigger={
          <button
            type="button"
            aria-label="Choose from a month"
            className="absolute top-1 right-1 size-7 rounded-md text-faded hover:bg-wash"
          >
            ▾
          </button>
        }
      >
        <Month
          value={value}
          today={today}
          onChoose={(date) => {
            onChange(date);
            setTyped(null);
            setOpen(false);
          }}
        />
      </Popover>
    </div>
  );
}

const steps: Record<string, number> = {
  ArrowLeft: -1,
  ArrowRight: 1,
  ArrowUp: -7,
  ArrowDown: 7,
  PageUp: -28,
  PageDown: 28,
};

/** Five to six weeks around a day; arrows move by day and week, Page Up and Down by four weeks. */
function Month({ value, today, onChoose }: { value: string; today: string; onChoose: (date: string) => void }) {
  const [at, setAt] = useState(value);
  const first = mondayOf(`${at.slice(0, 7)}-01`);
  const weeks = Array.from({ length: 6 }, (_, w) => Array.from({ length: 7 }, (_, d) => addDays(first, w * 7 + d)));
  return (
    <div>
      <div className="mb-2 flex items-center justify-between">
        <button
          type="button"
          aria-label="Earlier"
          className="rounded-md px-2 hover:bg-wash"
          onClick={() => setAt(addDays(`${at.slice(0, 7)}-01`, -1))}
        >
          ←
        </button>
        <b className="font-head">{monthWords(at)}</b>
        <button
          type="button"
          aria-label="Later"
          className="rounded-md px-2 hover:bg-wash"
          onClick={() => setAt(addDays(`${at.slice(0, 7)}-28`, 4))}
        >
          →
        </button>
      </div>
      <table
        onKeyDown={(event) => {
          const step = steps[event.key];
          if (step === undefined) return;
          event.preventDefault();
          const next = addDays(at, step);
          setAt(next);
          requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-day="${next}"]`)?.focus());
        }}
      >
        <thead>
          <tr>
            {weekdayNames.map((name) => (
              <th key={name} scope="col" className="px-1.5 pb-1 font-normal text-faded text-xs">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeks.map((week) => (
            <tr key={week[0]}>
              {week.map((day) => (
                <td key={day} className="p-0">
                  <button
                    type="button"
                    data-day={day}
                    tabIndex={day === at ? 0 : -1}
                    aria-label={`${weekdayWord(day)} ${shortDay(day)}`}
                    aria-pressed={day === value}
                    onClick={() => onChoose(day)}
                    className={`w-full rounded-md px-2 py-1 text-center hover:bg-wash aria-pressed:bg-ink aria-pressed:text-paper ${day === today ? 'font-bold text-dawn' : ''} ${day.slice(0, 7) === at.slice(0, 7) ? '' : 'text-faded'}`}
                  >
                    {Number(day.slice(8))}
                  </button>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
