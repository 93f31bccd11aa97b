// @vitest-environment happy-dom
import { act, cleanup, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';

/** An observer that says what the test tells it to. */
class Watcher {
  static all: Watcher[] = [];
  readonly observed: Element[] = [];
  constructor(readonly tell: (seen: { target: Element; isIntersecting: boolean }[]) => void) {
    Watcher.all.push(this);
  }
  observe(element: Element) {
    this.observed.push(element);
  }
  unobserve() {}
}

beforeEach(() => {
  vi.resetModules();
  Watcher.all = [];
  vi.stubGlobal('IntersectionObserver', Watcher);
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

async function drawn() {
  const { WhenNear } = await import('./WhenNear');
  const draw = (count: number) => (
    <WhenNear count={count} height={40}>
      {() => <button type="button">{count} cards</button>}
    </WhenNear>
  );
  const { rerender } = render(draw(10));
  const watcher = Watcher.all[0] as Watcher;
  const place = watcher.observed[0] as HTMLElement;
  const near = (isIntersecting: boolean) => act(() => watcher.tell([{ target: place, isIntersecting }]));
  return { place, near, watcher, redraw: (count: number) => rerender(draw(count)) };
}

const there = () => screen.queryByRole('button') !== null;

test('things are drawn while they are near, and their place is kept free otherwise', async () => {
  const { place, near } = await drawn();
  expect([there(), place.style.height]).toEqual([false, '400px']);
  near(true);
  expect([there(), place.style.height]).toEqual([true, '']);
  near(false);
  expect(there()).toBe(false);
});

test('what has the focus stays, however far away it is', async () => {
  const { near } = await drawn();
  near(true);
  screen.getByRole('button').focus();
  near(false);
  expect(there()).toBe(true);
});

test('where there are suddenly many more, it is asked again whether they are near', async () => {
  const { near, watcher, redraw } = await drawn();
  near(true);
  redraw(12);
  expect([there(), watcher.observed.length]).toEqual([true, 1]);
  redraw(60);
  expect([there(), watcher.observed.length]).toEqual([false, 2]);
  near(true);
  expect(there()).toBe(true);
});

test('for paper all is drawn', async () => {
  await drawn();
  act(() => dispatchEvent(new Event('beforeprint')));
  expect(there()).toBe(true);
});
