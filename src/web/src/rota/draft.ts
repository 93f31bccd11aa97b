import { addDays, daysBetween } from '../time/dates';
import type { Rota, SlotEdit } from './rota';

/** A slot as it is being laid out; the key is its own on this page. */
export type Draft = SlotEdit & { key: string };

export const draftOf = (rota: Rota): Draft[] =>
  rota.slots.map(({ nextDates: _, ...slot }) => ({ ...slot, key: slot.id }));

let made = 0;
/** A new slot on some days. */
export const newSlot = (days: readonly number[], time: string, channels: readonly string[] = []): Draft => ({
  key: `new-${++made}`,
  days: [...days],
  time,
  categories: [],
  channels: [...channels],
  rhythm: 'weeks',
  every: 1,
  isPool: false,
  fillsEveryChannel: false,
});

export const editOf = ({ key: _, ...slot }: Draft): SlotEdit => slot;

const sorted = (days: Iterable<number>) => [...new Set(days)].sort((a, b) => a - b);

/** Days from one to another, in either direction. */
export const span = (from: number, to: number) =>
  Array.from({ length: Math.abs(to - from) + 1 }, (_, i) => Math.min(from, to) + i);

const change = (slots: readonly Draft[], key: string, how: (slot: Draft) => Draft) =>
  slots.map((slot) => (slot.key === key ? how(slot) : slot));

/** Lets a slot draw from one category alone. */
export const given = (slots: readonly Draft[], key: string, category: string) =>
  change(slots, key, (slot) => ({ ...slot, categories: [category], isPool: false }));

/** Takes one of a slot's days to another day, and all of it to another time. */
export const moved = (slots: readonly Draft[], key: string, from: number, to: number, time: string) =>
  change(slots, key, (slot) => ({
    ...slot,
    time,
    days: slot.rhythm === 'days' ? slot.days : sorted(slot.days.map((d) => (d === from ? to : d))),
  }));

/** Lets a slot go on every day from one to another as well. */
export const stretched = (slots: readonly Draft[], key: string, from: number, to: number) =>
  change(slots, key, (slot) =>
    slot.rhythm === 'days' ? slot : { ...slot, days: sorted([...slot.days, ...span(from, to)]) },
  );

/** Takes a day off a slot; with its last day the slot goes. */
export const withoutDay = (slots: readonly Draft[], key: string, day: number) =>
  slots.flatMap((slot) => {
    if (slot.key !== key) return [slot];
    const days = slot.days.filter((d) => d !== day);
    return slot.rhythm === 'days' || days.length === 0 ? [] : [{ ...slot, days }];
  });

/** Lays out one day like another: what it had goes. */
export const dayCopied = (slots: readonly Draft[], from: number, to: number) =>
  slots
    .flatMap((slot) =>
      slot.rhythm === 'weeks' && slot.days.includes(to) && !slot.days.includes(from)
        ? withoutDay([slot], slot.key, to)
        : [slot],
    )
    .map((slot) =>
      slot.rhythm === 'weeks' && slot.days.includes(from) ? { ...slot, days: sorted([...slot.days, to]) } : slot,
    );

/** Gives a channel the week of another: it joins that one's slots and leaves its own. */
export const channelCopied = (slots: readonly Draft[], from: string, to: string) =>
  slots.flatMap((slot) => {
    const others = slot.channels.filter((c) => c !== to);
    const channels = slot.channels.includes(from) ? [...others, to] : others;
    return channels.length === 0 ? [] : [{ ...slot, channels }];
  });

/** The half hour some steps on, within the day. */
export function halfHoursOn(time: string, steps: number): string {
  const [hour = 0, minute = 0] = time.split(':').map(Number);
  const total = Math.min(47, Math.max(0, Math.floor((hour * 60 + minute) / 30) + steps));
  return `${String(Math.floor(total / 2)).padStart(2, '0')}:${total % 2 === 1 ? '30' : '00'}:00`;
}

/** The dates on which a slot that comes every few days comes next: those within the week from today on, or else the first of all. */
export function nextOf(slot: Draft, today: string): string[] {
  const every = Math.max(1, slot.every ?? 1);
  const anchor = slot.anchor ?? today;
  const begin = [anchor, slot.from ?? anchor, today].sort().at(-1) ?? today;
  const first = addDays(anchor, Math.ceil(daysBetween(anchor, begin) / every) * every);
  const left = 7 - daysBetween(today, first);
  if (left <= 0) return [first];
  return Array.from({ length: Math.ceil(left / every) }, (_, i) => addDays(first, i * every));
}
