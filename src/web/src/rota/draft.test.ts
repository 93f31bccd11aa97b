import { expect, test } from 'vitest';
import {
  channelCopied,
  type Draft,
  dayCopied,
  halfHoursOn,
  moved,
  newSlot,
  nextOf,
  span,
  stretched,
  withoutDay,
} from './draft';

const slot = (days: number[], time = '09:00:00', channels = ['jot']): Draft => newSlot(days, time, channels);
const days = (slots: readonly Draft[]) => slots.map((s) => s.days);

test('dragging one day of a slot moves that day, and the time of all', () => {
  const one = slot([1, 3]);
  const [after] = moved([one], one.key, 3, 5, '17:30:00');
  expect(after).toMatchObject({ days: [1, 5], time: '17:30:00' });
});

test('a day dropped on another of the same slot leaves one', () => {
  const one = slot([1, 3]);
  expect(days(moved([one], one.key, 3, 1, '09:00:00'))).toEqual([[1]]);
});

test('stretching fills the days between, in either direction', () => {
  const one = slot([4]);
  expect(days(stretched([one], one.key, 4, 6))).toEqual([[4, 5, 6]]);
  expect(days(stretched([one], one.key, 4, 2))).toEqual([[2, 3, 4]]);
  expect(span(5, 2)).toEqual([2, 3, 4, 5]);
});

test('the last day takes the slot with it', () => {
  const one = slot([1, 2]);
  expect(days(withoutDay([one], one.key, 1))).toEqual([[2]]);
  expect(withoutDay([slot([1])].concat(one), one.key, 9)).toHaveLength(2);
  const last = slot([1]);
  expect(withoutDay([last], last.key, 1)).toEqual([]);
});

test('a day copied onto another replaces what that day had', () => {
  const monday = slot([1]);
  const both = slot([1, 2]);
  const tuesday = slot([2], '12:00:00');
  const longer = slot([2, 4]);
  expect(days(dayCopied([monday, both, tuesday, longer], 1, 2))).toEqual([[1, 2], [1, 2], [4]]);
});

test('a channel with another’s week is in all of its slots and in none besides', () => {
  const after = channelCopied(
    [slot([1], '09:00:00', ['jot']), slot([2], '09:00:00', ['hearth', 'jot']), slot([3], '09:00:00', ['hearth'])],
    'jot',
    'hearth',
  );
  expect(after.map((s) => s.channels)).toEqual([
    ['jot', 'hearth'],
    ['jot', 'hearth'],
  ]);
});

test('half hours stop at the ends of the day', () => {
  expect(halfHoursOn('09:10:00', 1)).toBe('09:30:00');
  expect(halfHoursOn('00:00:00', -1)).toBe('00:00:00');
  expect(halfHoursOn('23:30:00', 1)).toBe('23:30:00');
});

test('a slot that comes every few days stands on its next days, or on the first of all', () => {
  const slot = { ...newSlot([], '09:00:00'), rhythm: 'days' as const, every: 3, anchor: '2026-12-01' };
  expect(nextOf(slot, '2026-12-01')).toEqual(['2026-12-01', '2026-12-04', '2026-12-07']);
  expect(nextOf(slot, '2026-12-02')).toEqual(['2026-12-04', '2026-12-07']);
  expect(nextOf({ ...slot, every: 30 }, '2026-12-02')).toEqual(['2026-12-31']);
  expect(nextOf({ ...slot, from: '2026-12-20' }, '2026-12-02')).toEqual(['2026-12-22']);
  expect(nextOf({ ...slot, anchor: null }, '2026-12-02')).toEqual(['2026-12-02', '2026-12-05', '2026-12-08']);
});
