import { Fragment, type KeyboardEvent } from 'react';
import { edgeOf, Monogram, useCategories } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { NetworkMark } from '../networks/networks';
import { clock, shortDay, weekdayNames, weekdayOf } from '../time/dates';
import { draggable, droppable } from '../ui/dragging';
import { useWorkspace } from '../workspaces/workspace';
import { type Draft, halfHoursOn, moved, nextOf, stretched, withoutDay } from './draft';
import type { WeekHour } from './rota';
import { Shore } from './Shore';

/** What is dragged over the week. */
export type Load =
  | { kind: 'make'; day: number; time: string }
  | { kind: 'move'; key: string; day: number }
  | { kind: 'stretch'; key: string; day: number };

export interface Place {
  day: number;
  time: string;
}

interface Props {
  slots: readonly Draft[];
  /** All hours of the week, as a shoreline along each day; empty while they aren't known. */
  hours: readonly WeekHour[];
  all: readonly Draft[];
  chosen: string | null;
  onOpen: (key: string) => void;
  onMake: (days: readonly number[], time: string) => void;
  onChange: (slots: readonly Draft[]) => void;
}

const firstHour = 5;
const hours = Array.from({ length: 24 - firstHour }, (_, i) => i + firstHour);
const days = [1, 2, 3, 4, 5, 6, 7];

/** Days across, hours down: an hour with slots takes the room it needs, an hour without is a line of the page. */
export function WeekGrid({ slots, hours: known, all, chosen, onOpen, onMake, onChange }: Props) {
  const today = useWorkspace().data?.today ?? '';
  const early = slots.some((slot) => Number(slot.time.slice(0, 2)) < firstHour);
  const shownHours = early ? Array.from({ length: 24 }, (_, i) => i) : hours;
  const onKeyDown = (event: KeyboardEvent) => {
    const card = (event.target as Element).closest<HTMLElement>('[data-slot]');
    const slot = all.find((s) => s.key === card?.dataset.slot);
    if (!card || !slot) return;
    const day = Number(card.dataset.day);
    const next = keyed(all, slot, day, event);
    if (!next) return;
    event.preventDefault();
    onChange(next.slots);
    // The keys stay with the card where it went.
    requestAnimationFrame(() =>
      document.querySelector<HTMLElement>(`[data-slot="${slot.key}"][data-day="${next.day}"]`)?.focus(),
    );
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: listens for the cards in it, which are buttons
    <div onKeyDown={onKeyDown} className="grid grid-cols-[3rem_repeat(7,minmax(0,1fr))] border-ink border-t-[1.5px]">
      <span />
      {weekdayNames.map((name) => (
        <h2 key={name} className="border-rule border-l px-2 py-1">
          {name}
        </h2>
      ))}
      {shownHours.map((hour) => (
        <Fragment key={hour}>
          <span className="border-rule border-t pt-px pr-1.5 text-right text-[0.68rem] text-faded leading-none">
            {String(hour).padStart(2, '0')}
          </span>
          {days.map((day) => (
            <div
              key={day}
              className={`@container/day relative min-w-0 border-rule border-t border-l ${known.length > 0 ? 'pr-5' : ''}`}
            >
              <Shore
                hour={known[(day - 1) * 24 + hour]}
                before={hour > 0 ? known[(day - 1) * 24 + hour - 1] : undefined}
                after={hour < 23 ? known[(day - 1) * 24 + hour + 1] : undefined}
              />
              {['00', '30'].map((minute) => (
                <Half
                  key={minute}
                  day={day}
                  time={`${String(hour).padStart(2, '0')}:${minute}:00`}
                  slots={slots.filter((slot) => isIn(slot, day, hour, minute, today))}
                  today={today}
                  chosen={chosen}
                  onOpen={onOpen}
                  onMake={onMake}
                />
              ))}
            </div>
          ))}
        </Fragment>
      ))}
    </div>
  );
}

const isIn = (slot: Draft, day: number, hour: number, minute: string, today: string) =>
  (slot.rhythm === 'days' ? dateOn(slot, day, today) !== undefined : slot.days.includes(day)) &&
  Number(slot.time.slice(0, 2)) === hour &&
  (Number(slot.time.slice(3, 5)) < 30 ? '00' : '30') === minute;

/** The next date on which a slot that comes every few days comes on that weekday. */
const dateOn = (slot: Draft, day: number, today: string) => nextOf(slot, today).find((d) => weekdayOf(d) === day);

/** What a key does to a slot: Alt with an arrow moves it, with Shift as well it stretches, Delete takes the day off. */
function keyed(
  slots: readonly Draft[],
  slot: Draft,
  day: number,
  event: KeyboardEvent,
): { slots: readonly Draft[]; day: number } | null {
  if (event.key === 'Delete' || event.key === 'Backspace') return { slots: withoutDay(slots, slot.key, day), day };
  if (!event.altKey) return null;
  const across = { ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? 0;
  const down = { ArrowUp: -1, ArrowDown: 1 }[event.key] ?? 0;
  const to = day + across;
  if ((across === 0 && down === 0) || to < 1 || to > 7) return null;
  if (event.shiftKey) return across === 0 ? null : { slots: stretched(slots, slot.key, day, to), day: to };
  return { slots: moved(slots, slot.key, day, to, down === 0 ? slot.time : halfHoursOn(slot.time, down)), day: to };
}

interface HalfProps {
  day: number;
  time: string;
  slots: readonly Draft[];
  today: string;
  chosen: string | null;
  onOpen: (key: string) => void;
  onMake: (days: readonly number[], time: string) => void;
}

/** Half an hour of a day: press it to make a slot there, drag from it over other days to make one on all of them. */
function Half({ day, time, slots, today, chosen, onOpen, onMake }: HalfProps) {
  return (
    <div
      ref={droppable({ day, time } satisfies Place)}
      data-half={`${day} ${time}`}
      className="group relative data-over:bg-dawn-wash"
    >
      <button
        type="button"
        tabIndex={-1}
        aria-label={`Make a slot on ${weekdayNames[day - 1]} at ${clock(time)}`}
        ref={draggable({ kind: 'make', day, time } satisfies Load)}
        onClick={() => onMake([day], time)}
        className={`block w-full text-left text-[0.65rem] text-dawn leading-[0.7rem] hover:bg-dawn-wash ${slots.length > 0 ? 'h-1' : 'h-[0.7rem]'}`}
      />
      <div className="flex flex-col gap-0.5 px-0.5">
        {slots.map((slot) => (
          <SlotCard key={slot.key} slot={slot} day={day} today={today} chosen={slot.key === chosen} onOpen={onOpen} />
        ))}
      </div>
    </div>
  );
}

interface CardProps {
  slot: Draft;
  day: number;
  today: string;
  chosen: boolean;
  onOpen: (key: string) => void;
}

function SlotCard({ slot, day, today, chosen, onOpen }: CardProps) {
  const categories = useCategories().data ?? [];
  const channels = useChannels().data ?? [];
  const drawn = slot.categories.map((id) => categories.find((c) => c.id === id)).filter((c) => c !== undefined);
  const next = slot.rhythm === 'days' ? dateOn(slot, day, today) : undefined;
  const often = next
    ? `every ${slot.every} days: ${shortDay(next)}`
    : slot.every > 1
      ? `every ${slot.every} weeks`
      : '';
  const names = drawn.map((c) => c.name).join(', ') || 'Kept free';
  return (
    <div className="relative" style={edgeOf(drawn[0])}>
      <button
        type="button"
        ref={draggable({ kind: 'move', key: slot.key, day } satisfies Load)}
        data-slot={slot.key}
        data-day={day}
        aria-pressed={chosen}
        onClick={() => onOpen(slot.key)}
        title={names}
        className={`block w-full rounded-sm py-0.5 pr-2 pl-1.5 text-left text-[0.75rem] leading-tight hover:bg-wash data-taken:opacity-40 ${drawn.length > 0 ? 'edge-scheduled' : 'edge-empty'} ${chosen ? 'outline-2 outline-dawn' : ''}`}
      >
        <span className="flex flex-wrap items-center gap-x-1 gap-y-px">
          <span className="font-head font-semibold">{clock(slot.time)}</span>
          {drawn.map((c) => (
            <Monogram key={c.id} category={c} />
          ))}
          <span className="sr-only">{names}, </span>
          <span className="ml-auto flex gap-px overflow-hidden text-faded @max-[5.5rem]/day:hidden">
            {slot.channels.slice(0, 3).map((id) => (
              <NetworkMark key={id} network={channels.find((c) => c.id === id)?.network ?? ''} size={11} />
            ))}
            {slot.channels.length > 3 && <span className="text-[0.65rem]">+{slot.channels.length - 3}</span>}
          </span>
        </span>
        {often && <span className="block text-[0.65rem] text-faded">{often}</span>}
      </button>
      {slot.rhythm === 'weeks' && (
        <span
          ref={draggable({ kind: 'stretch', key: slot.key, day } satisfies Load)}
          aria-hidden="true"
          data-stretch={slot.key}
          title="Drag over other days"
          className="absolute top-0 right-0 h-full w-1.5 cursor-ew-resize border-r-2 border-transparent hover:border-dawn"
        />
      )}
    </div>
  );
}
