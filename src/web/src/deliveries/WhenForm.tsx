import { useState } from 'react';
import { GoodHours } from '../rota/GoodHours';
import { Button } from '../ui/Button';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { TimeField } from '../ui/TimeField';

interface Props {
  today: string;
  date: string;
  time: string;
  act: string;
  busy: boolean;
  error: unknown;
  /** Their good hours stand beside the time. */
  channels: readonly string[];
  onSubmit: (when: { date: string; time: string }) => void;
}

/** A date and a time in the workspace's zone. */
export function WhenForm({ today, date: firstDate, time: firstTime, act, busy, error, channels, onSubmit }: Props) {
  const [date, setDate] = useState(firstDate);
  const [time, setTime] = useState(firstTime);
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit({ date, time: `${time}:00` });
      }}
    >
      <div className="flex gap-3">
        <Field label="Date" className="flex-1">
          {(id) => <DateField id={id} today={today} value={date} onChange={setDate} />}
        </Field>
        <Field label="Time">{(id) => <TimeField id={id} value={time} onChange={setTime} />}</Field>
      </div>
      <GoodHours narrow channels={channels} date={date} time={time} onTime={setTime} />
      <FormError error={error} />
      <div>
        <Button type="submit" variant="primary" disabled={busy}>
          {act}
        </Button>
      </div>
    </form>
  );
}
