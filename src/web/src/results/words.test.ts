import { expect, test } from 'vitest';
import { index, share, whole } from './words';

test('what is missing is a dash and never a nought', () => {
  for (const write of [whole, share, index]) {
    expect(write(null)).toBe('–');
    expect(write(undefined)).toBe('–');
  }
  expect(whole(0)).toBe('0');
  expect(share(0)).toBe('0.0%');
});

test('figures are written the same way everywhere', () => {
  expect(whole(12524.4)).toBe('12,524');
  expect(share(0.19512)).toBe('19.5%');
  expect(index(2.449)).toBe('2.45');
});
