import { limits } from '../api/limits';
import { Monogram, useCategories } from '../categories/categories';
import { OrderFields } from '../categories/OrderFields';
import { ChannelChoice } from '../channels/channels';
import { PauseButton } from '../pauses/PauseButton';
import { addDays, clock, longDay, shortDay, weekdayNames } from '../time/dates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Choice } from '../ui/Choice';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { TimeField } from '../ui/TimeField';
import type { Draft } from './draft';
import { useRotas } from './rota';

interface Props {
  slot: Draft;
  today: string;
  onChange: (slot: Draft) => void;
  onRemove: () => void;
}

/** One slot in all its settings. It changes the layout at once; nothing is saved until that is applied. */
export function SlotForm({ slot, today, onChange, onRemove }: Props) {
  const categories = useCategories();
  const change = (part: Partial<Draft>) => onChange({ ...slot, ...part });
  const toggleCategory = (id: string) => {
    const chosen = slot.categories.includes(id) ? slot.categories.filter((c) => c !== id) : [...slot.categories, id];
    const usual = categories.data?.find((c) => c.id === id)?.usualChannels ?? [];
    change({ categories: chosen, channels: slot.channels.length === 0 ? usual : slot.channels });
  };
  return (
    <div className="flex flex-col gap-5">
      <RhythmFields slot={slot} today={today} change={change} />
      <fieldset>
        <legend className="mb-1 text-faded text-sm">Categories, taken in turn; none keeps the place free</legend>
        <div className="flex flex-col gap-0.5">
          {categories.data?.map((category) => (
            <Checkbox
              key={category.id}
              checked={slot.categories.includes(category.id)}
              onChange={() => toggleCategory(category.id)}
            >
              <Monogram category={category} /> {category.name}
              {slot.categories.length > 1 && slot.categories.includes(category.id) && (
                <span className="ml-2 text-faded text-sm">{slot.categories.indexOf(category.id) + 1}</span>
              )}
            </Checkbox>
          ))}
        </div>
      </fieldset>
      {slot.categories.length > 1 && (
        <Choice
          label="How several categories are taken"
          value={slot.isPool ? 'pool' : 'turn'}
          options={[
            { value: 'turn', label: 'In turn' },
            { value: 'pool', label: 'As one pool' },
          ]}
          onChange={(how) => change({ isPool: how === 'pool' })}
        />
      )}
      <ChannelChoice label="Channels" value={slot.channels} onChange={(channels) => change({ channels })} />
      {slot.channels.length > 1 && (
        <Checkbox checked={slot.fillsEveryChannel} onChange={(fillsEveryChannel) => change({ fillsEveryChannel })}>
          Fill every channel: who can’t take the post gets the next
        </Checkbox>
      )}
      <OrderFields
        label="Order of its posts"
        none="As the category says"
        value={slot.order ?? null}
        onChange={(order) => change({ order })}
      />
      <Windows slot={slot} today={today} change={change} />
      <NextDates slot={slot} />
      <div className="flex flex-wrap items-center gap-2">
        <Button onClick={onRemove}>Take the slot out</Button>
        {slot.id && <PauseButton what="slot" target={slot.id} name="This slot" words="Pause it" />}
      </div>
      <p className="text-faded text-sm">What has been scheduled from this slot already stays as it is.</p>
    </div>
  );
}

interface PartProps {
  slot: Draft;
  today: string;
  change: (part: Partial<Draft>) => void;
}

function RhythmFields({ slot, today, change }: PartProps) {
  const toggle = (d: number) => {
    const days = slot.days.includes(d) ? slot.days.filter((x) => x !== d) : [...slot.days, d].sort();
    if (days.length > 0) change({ days });
  };
  const isByDays = slot.rhythm === 'days';
  const every = (
    <input
      type="number"
      aria-label={isByDays ? 'Every … days' : 'Every … weeks'}
      {...limits.SlotEdit.every}
      className="field !w-16"
      value={slot.every}
      onChange={(event) => event.target.valueAsNumber >= 1 && change({ every: event.target.valueAsNumber })}
    />
  );
  const from = (
    <span className="inline-block w-40">
      <DateField
        aria-label="Counted from"
        value={slot.anchor ?? today}
        today={today}
        onChange={(anchor) => change({ anchor })}
      />
    </span>
  );
  const at = (
    <>
      <span>at</span>
      <span className="inline-block w-28">
        <TimeField aria-label="Time" value={clock(slot.time)} onChange={(time) => change({ time: `${time}:00` })} />
      </span>
    </>
  );
  return (
    <div className="flex flex-col gap-3">
      <Choice
        label="Comes round by"
        value={slot.rhythm ?? 'weeks'}
        options={[
          { value: 'weeks', label: 'Weekdays' },
          { value: 'days', label: 'Every few days' },
        ]}
        onChange={(rhythm) =>
          change({
            rhythm,
            days: rhythm === 'weeks' && slot.days.length === 0 ? [1] : slot.days,
            anchor: rhythm === 'days' ? today : null,
          })
        }
      />
      {isByDays ? (
        <div className="flex flex-wrap items-center gap-2">
          <span>every</span> {every} <span>days from</span> {from} {at}
        </div>
      ) : (
        <>
          <div className="flex flex-wrap items-center gap-2">
            <span>on</span>
            <fieldset className="flex gap-0.5">
              <legend className="sr-only">Weekdays</legend>
              {weekdayNames.map((name, i) => (
                <button
                  key={name}
                  type="button"
                  aria-pressed={slot.days.includes(i + 1)}
                  onClick={() => toggle(i + 1)}
                  className="rounded-md border-[1.5px] border-rule-strong px-1.5 py-1 text-sm hover:bg-wash aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
                >
                  {name}
                </button>
              ))}
            </fieldset>
          </div>
          <div className="flex flex-wrap items-center gap-2">
            {at} <span>every</span> {every} <span>{slot.every > 1 ? 'weeks from' : 'week'}</span>
            {slot.every > 1 && from}
          </div>
        </>
      )}
    </div>
  );
}

function Windows({ slot, today, change }: PartProps) {
  if (!slot.from && !slot.to)
    return (
      <Button variant="quiet" className="self-start" onClick={() => change({ from: today, to: addDays(today, 27) })}>
        Only between two dates …
      </Button>
    );
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="From">
        {(id) => <DateField id={id} value={slot.from ?? today} today={today} onChange={(from) => change({ from })} />}
      </Field>
      <Field label="To" error={slot.from && slot.to && slot.to < slot.from ? 'It ends before it begins.' : null}>
        {(id) => <DateField id={id} value={slot.to ?? today} today={today} onChange={(to) => change({ to })} />}
      </Field>
      <Button variant="quiet" className="justify-self-start" onClick={() => change({ from: null, to: null })}>
        Always
      </Button>
    </div>
  );
}

/** The next three dates, as the server counts them; known once the slot is applied. */
function NextDates({ slot }: { slot: Draft }) {
  const saved = useRotas()
    .data?.flatMap((r) => r.slots)
    .find((s) => s.id === slot.id);
  if (!saved || saved.nextDates.length === 0) return null;
  return (
    <p className="text-sm">
      <span className="text-faded">Next, as it is applied now: </span>
      {saved.nextDates.map((d, i) => (i === 0 ? longDay(d) : shortDay(d))).join(', ')}
    </p>
  );
}
