// @vitest-environment happy-dom
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { SearchBox } from './SearchBox';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

const box = () => screen.getByRole('searchbox') as HTMLInputElement;
const type = (value: string) => fireEvent.change(box(), { target: { value } });

function draw(value: string, onChange: (value: string) => void, onTyped?: (value: string) => void) {
  return <SearchBox label="Search" placeholder="Title" value={value} onChange={onChange} onTyped={onTyped} />;
}

test('what is typed is told at each letter, and once more after a pause', () => {
  const onChange = vi.fn();
  const onTyped = vi.fn();
  render(draw('', onChange, onTyped));
  onTyped.mockClear();
  type('a');
  type('ab');
  expect(onTyped.mock.calls).toEqual([['a'], ['ab']]);
  expect(onChange).not.toHaveBeenCalled();
  act(() => vi.advanceTimersByTime(300));
  expect(onChange.mock.calls).toEqual([['ab']]);
});

test('a value from elsewhere takes the place of what was typed, and is not told back', () => {
  const onChange = vi.fn();
  const onTyped = vi.fn();
  const { rerender } = render(draw('', onChange, onTyped));
  type('tern');
  act(() => vi.advanceTimersByTime(300));
  rerender(draw('tern', onChange, onTyped));
  onChange.mockClear();
  onTyped.mockClear();
  rerender(draw('', onChange, onTyped));
  act(() => vi.advanceTimersByTime(300));
  expect(box().value).toBe('');
  expect(onTyped.mock.calls).toEqual([['']]);
  expect(onChange).not.toHaveBeenCalled();
});

test('an answer that comes late takes no letter away', () => {
  const onChange = vi.fn();
  const { rerender } = render(draw('', onChange));
  type('a');
  act(() => vi.advanceTimersByTime(300));
  type('ab');
  act(() => vi.advanceTimersByTime(300));
  rerender(draw('a', onChange));
  expect(box().value).toBe('ab');
  rerender(draw('ab', onChange));
  expect(box().value).toBe('ab');
  expect(onChange.mock.calls).toEqual([['a'], ['ab']]);
});
