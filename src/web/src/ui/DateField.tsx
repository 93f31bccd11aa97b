import { useState } from 'react';
import { DayPicker } from 'react-day-picker';
import { longDay, monthWords, shortDay, weekdayWord } from '../time/dates';
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

/** Local dates as the library wants them; it never sees a time of day. */
const toDate = (date: string) => new Date(`${date}T00:00:00`);
const toWords = (date: Date) =>
  [date.getFullYear(), date.getMonth() + 1, date.getDate()].map((n) => String(n).padStart(2, '0')).join('-');

/** Six weeks around a day; arrows move by day and week, Page Up and Down by a month. */
function Month({ value, today, onChoose }: { value: string; today: string; onChoose: (date: string) => void }) {
  return (
    <DayPicker
      mode="single"
      required
      autoFocus
      showOutsideDays
      fixedWeeks
      weekStartsOn={1}
      selected={toDate(value)}
      defaultMonth={toDate(value)}
      today={toDate(today)}
      onSelect={(date) => onChoose(toWords(date))}
      formatters={{
        formatCaption: (date) => monthWords(toWords(date)),
        formatWeekdayName: (date) => weekdayWord(toWords(date)),
      }}
      labels={{
        labelNext: () => 'Later',
        labelPrevious: () => 'Earlier',
        labelDayButton: (date) => `${weekdayWord(toWords(date))} ${shortDay(toWords(date))}`,
        labelWeekday: (date) => weekdayWord(toWords(date)),
      }}
      components={{ Chevron: ({ orientation }) => <span aria-hidden>{orientation === 'left' ? '←' : '→'}</span> }}
      classNames={{
        months: 'relative',
        month_caption: 'mb-2 text-center font-head font-bold',
        nav: 'absolute inset-x-0 top-0 flex justify-between',
        button_previous: 'rounded-md px-2 hover:bg-wash',
        button_next: 'rounded-md px-2 hover:bg-wash',
        weekday: 'px-1.5 pb-1 font-normal text-faded text-xs',
        day: 'p-0',
        day_button: 'w-full rounded-md px-2 py-1 text-center hover:bg-wash',
        selected: '[&>button]:bg-ink [&>button]:text-paper',
        today: 'font-bold text-dawn',
        outside: 'text-faded',
      }}
    />
  );
}
