import { expect, test } from 'vitest';
import { readTypedDate, readTypedTime } from './typed';

const today = '2026-11-25'; // a Wednesday

test.each([
  ['2026-03-25', '2026-03-25'],
  ['25 Mar 2027', '2027-03-25'],
  ['Thu 25 March 2027', '2027-03-25'],
  ['March 25, 2027', '2027-03-25'],
  ['today', '2026-11-25'],
  ['tomorrow', '2026-11-26'],
  ['fri', '2026-11-27'],
  ['Wednesday', '2026-12-02'],
])('the date “%s” is read as %s', (typed, date) => {
  expect(readTypedDate(typed, today)).toBe(date);
});

test('a day without a year is the next such day', () => {
  expect(readTypedDate('24 Nov', today)).toBe('2027-11-24');
  expect(readTypedDate('25 Nov', today)).toBe('2026-11-25');
});

test.each(['03/04/2027', '31 Feb 2027', '4 5', 'soon', '', '25 Mar 27'])('“%s” is not guessed at', (typed) => {
  expect(readTypedDate(typed, today)).toBeNull();
});

test.each([
  ['14:30', '14:30'],
  ['9', '09:00'],
  ['0930', '09:30'],
  ['2.30 pm', '14:30'],
  ['12 am', '00:00'],
  ['12pm', '12:00'],
])('the time “%s” is read as %s', (typed, time) => {
  expect(readTypedTime(typed)).toBe(time);
});

test.each(['24:00', '9:75', '13 pm', 'noon', ''])('“%s” is not a time', (typed) => {
  expect(readTypedTime(typed)).toBeNull();
});
