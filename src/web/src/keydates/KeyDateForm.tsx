import { useState } from 'react';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Select } from '../ui/Select';
import { TimeField } from '../ui/TimeField';
import { KindMark } from './KeyDateMark';
import { type KeyDateEdit, type KeyDateKind, useKeyDateActs } from './keyDates';
import { joinRule, ruleChoices, ruleFrom, ruleWords, splitRule } from './rules';

interface Props {
  /** Null: a new one. */
  id: string | null;
  first: KeyDateEdit;
  kinds: readonly KeyDateKind[];
  today: string;
  /** Of the workspace. */
  zone: string;
  onDone: (saved: { id: string; outOfStep: number }) => void;
}

/** What a key date is, when, and how it comes again. */
export function KeyDateForm({ id, first, kinds, today, zone, onDone }: Props) {
  const [edit, setEdit] = useState(first);
  const { save } = useKeyDateActs();
  const set = (changes: Partial<KeyDateEdit>) => setEdit((before) => ({ ...before, ...changes }));
  const { base, until } = splitRule(edit.rule ?? '');
  const choices = ruleChoices(edit.date);
  const isOwn = base !== '' && !choices.some((c) => c.value === base);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ keyDate: id, body: edit }, { onSuccess: onDone });
      }}
    >
      <Field label="What it is">
        {(fieldId) => (
          <input
            id={fieldId}
            className="field"
            required
            maxLength={120}
            value={edit.title}
            onChange={(event) => set({ title: event.target.value })}
          />
        )}
      </Field>
      <Field label="Kind">
        {(fieldId) => (
          <Select
            id={fieldId}
            value={edit.kindId}
            options={kinds.map((k) => ({ value: k.id, label: k.name, mark: <KindMark kind={k} /> }))}
            onChange={(kindId) => set({ kindId })}
          />
        )}
      </Field>
      <div className="flex gap-3">
        <Field label={edit.days > 1 ? 'From' : 'Date'} className="flex-1">
          {(fieldId) => (
            <DateField
              id={fieldId}
              today={today}
              value={edit.date}
              onChange={(date) => set({ date, rule: edit.rule ? ruleFrom(edit.rule, edit.date, date) : null })}
            />
          )}
        </Field>
        <Field label="Days">
          {(fieldId) => (
            <input
              id={fieldId}
              type="number"
              min={1}
              max={366}
              className="field !w-20"
              value={edit.days}
              onChange={(event) => set({ days: Math.min(366, Math.max(1, Number(event.target.value) || 1)) })}
            />
          )}
        </Field>
      </div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Checkbox checked={edit.time === null} onChange={(on) => set({ time: on ? null : '10:00:00', zone: null })}>
          All day
        </Checkbox>
        {edit.time !== null && (
          <>
            <Field label="Time">
              {(fieldId) => (
                <TimeField
                  id={fieldId}
                  value={edit.time?.slice(0, 5) ?? ''}
                  onChange={(time) => set({ time: `${time}:00` })}
                />
              )}
            </Field>
            <ZoneField zone={zone} value={edit.zone} onChange={(own) => set({ zone: own })} />
          </>
        )}
      </div>
      <Field label="Comes again">
        {(fieldId) => (
          <Select
            id={fieldId}
            value={base}
            none="It comes once"
            options={[...choices, ...(isOwn ? [{ value: base, label: ruleWords(base, edit.date) }] : [])]}
            onChange={(rule) => set({ rule: rule === '' ? null : joinRule(rule, until) })}
          />
        )}
      </Field>
      {base !== '' && (
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <Checkbox
            checked={until !== null}
            onChange={(on) => set({ rule: joinRule(base, on ? addDays(edit.date, 364) : null) })}
          >
            Until a date
          </Checkbox>
          {until && (
            <DateField
              aria-label="The last date on which it may come"
              today={today}
              value={until}
              onChange={(date) => set({ rule: joinRule(base, date) })}
            />
          )}
        </div>
      )}
      <Checkbox checked={edit.isLive} onChange={(isLive) => set({ isLive })}>
        Somebody has to do something then: Today reminds of it
      </Checkbox>
      <Field label="Notes">
        {(fieldId) => (
          <textarea
            id={fieldId}
            className="field"
            rows={3}
            maxLength={4000}
            value={edit.notes}
            onChange={(event) => set({ notes: event.target.value })}
          />
        )}
      </Field>
      <FormError error={save.error} />
      <div>
        <Button type="submit" variant="primary" disabled={save.isPending}>
          {id ? 'Save the key date' : 'Put it on the calendar'}
        </Button>
      </div>
    </form>
  );
}

const zones = Intl.supportedValuesOf('timeZone');

function ZoneField({
  zone,
  value,
  onChange,
}: {
  zone: string;
  value: string | null;
  onChange: (zone: string | null) => void;
}) {
  return (
    <Field label="In the zone">
      {(id) => (
        <>
          <input
            id={id}
            className="field !w-44"
            list={`${id}-zones`}
            value={value ?? zone}
            onChange={(event) => onChange(event.target.value === zone ? null : event.target.value)}
          />
          <datalist id={`${id}-zones`}>
            {zones.map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </>
      )}
    </Field>
  );
}
