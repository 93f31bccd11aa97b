import { expect, test } from 'vitest';
import { addDays, daysBetween, daysWords, dayWords, instantWords, mondayOf, readDate, weekdayOf } from './dates';

test('weekdays are those of the calendar', () => {
  // Source: calendar.
  expect(weekdayOf('2022-03-14')).toBe(1);
  expect(weekdayOf('2022-03-15')).toBe(2);
  expect(weekdayOf('2012-03-15')).toBe(4);
  expect(weekdayOf('2027-01-08')).toBe(5);
});

test('a week begins on Monday, also across a month and a year', () => {
  expect(mondayOf('2022-03-14')).toBe('2022-03-14');
  expect(mondayOf('2023-01-01')).toBe('2022-12-26');
});

test('days are added across a clock change and a leap day', () => {
  expect(addDays('2026-03-28', 2)).toBe('2026-03-30');
  expect(addDays('2024-02-28', 1)).toBe('2024-02-29');
  expect(daysBetween('2026-03-28', '2026-03-30')).toBe(2);
});

test('what is not a date in the address bar is ignored', () => {
  expect(readDate('2026-02-30')).toBeNull();
  expect(readDate('25/03/2026')).toBeNull();
  expect(readDate(null)).toBeNull();
  expect(readDate('2026-03-25')).toBe('2026-03-25');
});

test('words name the month, so that day and month cannot be mixed up', () => {
  expect(dayWords('2026-03-04')).toBe('Wed 4 Mar');
  expect(instantWords('2026-07-01T11:05:00Z', 'Europe/Dublin')).toBe('1 Jul 2026, 12:05');
});

test('days of a slot are named in order', () => {
  expect(daysWords([1, 3, 5])).toBe('Mon, Wed, Fri');
  expect(daysWords([1, 2, 3, 4, 5, 6, 7])).toBe('every day');
});
