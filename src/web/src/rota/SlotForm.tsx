import { useState } from 'react';
import { CategorySelect, useCategories } from '../categories/categories';
import { RemoveButton } from '../changes/RemoveButton';
import { ChannelChoice } from '../channels/channels';
import { clock, weekdayNames } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { TimeField } from '../ui/TimeField';
import { type Slot, useRemoveSlot, useSaveSlot } from './rota';

interface Props {
  slot: Slot | null;
  day: number;
  onDone: () => void;
}

export function SlotForm({ slot, day, onDone }: Props) {
  const save = useSaveSlot();
  const categories = useCategories();
  const [days, setDays] = useState<readonly number[]>(slot?.days ?? [day]);
  const [time, setTime] = useState(slot ? clock(slot.time) : '09:00');
  const [categoryId, setCategoryId] = useState(slot?.categoryId ?? '');
  const [channels, setChannels] = useState<readonly string[]>(slot?.channels ?? []);

  const chooseCategory = (id: string) => {
    setCategoryId(id);
    const usual = categories.data?.find((c) => c.id === id)?.usualChannels ?? [];
    if (channels.length === 0) setChannels(usual);
  };
  const toggle = (d: number) => setDays(days.includes(d) ? days.filter((x) => x !== d) : [...days, d].sort());

  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        const edit = { days: [...days], time: `${time}:00`, categoryId: categoryId || null, channels: [...channels] };
        save.mutate({ id: slot?.id ?? null, edit }, { onSuccess: onDone });
      }}
    >
      <fieldset>
        <legend className="mb-1 text-faded text-sm">Weekdays</legend>
        <div className="flex gap-1">
          {weekdayNames.map((name, i) => (
            <button
              key={name}
              type="button"
              aria-pressed={days.includes(i + 1)}
              onClick={() => toggle(i + 1)}
              className="flex-1 rounded-md border-[1.5px] border-rule-strong py-1 text-sm hover:bg-wash aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
            >
              {name}
            </button>
          ))}
        </div>
      </fieldset>
      <Field label="Time">{(id) => <TimeField id={id} value={time} onChange={setTime} />}</Field>
      <Field label="Category" hint="Without a category the place is kept free for a post of your own.">
        {(id) => <CategorySelect id={id} none="None: keep it free" value={categoryId} onChange={chooseCategory} />}
      </Field>
      <ChannelChoice label="Channels" value={channels} onChange={setChannels} />
      <FormError error={save.error} />
      <div className="flex gap-2">
        <Button type="submit" look="chief" disabled={save.isPending}>
          {slot ? 'Save the slot' : 'Add the slot'}
        </Button>
        {slot && <Remove slot={slot} onDone={onDone} />}
      </div>
      {slot && <p className="text-faded text-sm">What has been settled from this slot already stays as it is.</p>}
    </form>
  );
}

function Remove({ slot, onDone }: { slot: Slot; onDone: () => void }) {
  const remove = useRemoveSlot();
  return (
    <RemoveButton
      label="Remove"
      id={slot.id}
      remove={remove}
      words={() => 'The slot is gone from the week.'}
      onDone={onDone}
    />
  );
}
