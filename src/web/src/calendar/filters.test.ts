import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { entryForm } from '../deliveries/states';
import { cardsOf } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { addDays } from '../time/dates';
import { countsOf, type Filters, facets, narrows, readFilters } from './filters';
import { daysOf, spanOf, views } from './spans';
import { longestGap } from './Year';

/** A small generator with a seed, so that a failure comes again. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return state % below;
  };
}

function someEntries(seed: number): Entry[] {
  const next = random(seed);
  return Array.from({ length: 200 }, (_, i) => {
    const date = addDays('2026-03-02', next(40));
    const postId = next(6) === 0 ? null : `post ${next(25)}`;
    return {
      key: `${i}`,
      kind: postId ? (next(2) ? 'delivery' : 'projected') : 'empty',
      state: null,
      date,
      time: `${String(7 + next(4)).padStart(2, '0')}:00:00`,
      channelId: `channel ${next(4)}`,
      categoryId: next(9) === 0 ? null : `category ${next(3)}`,
      postId,
      title: postId && `Title of ${postId}`,
      origin: { kind: 'place', id: `slot ${next(5)}`, date, time: null },
      rotaId: next(3) ? 'rota' : null,
      isWaiting: next(5) === 0,
      findings: next(4) === 0 ? 1 : 0,
      trouble: null,
      dealtWith: false,
      may: [],
    } as unknown as Entry;
  });
}

const groups = new Map([
  ['channel 0', ['coast']],
  ['channel 1', ['coast', 'small']],
]);
const none = readFilters(new URLSearchParams());

test('each choice shows as many cards as its count says', () => {
  for (let seed = 1; seed < 9; seed++) {
    const entries = someEntries(seed);
    const next = random(seed * 7);
    const filters: Filters = {
      ...none,
      ...(next(2) && { channel: ['channel 0', 'channel 2'] }),
      ...(next(2) && { category: ['category 1', 'none'] }),
      ...(next(2) && { text: 'POST 1' }),
    };
    const counts = countsOf(entries, filters, groups);
    for (const facet of facets)
      for (const [value, count] of counts[facet]) {
        const isShown = narrows({ ...filters, [facet]: [value] }, groups);
        const cards = cardsOf(entries).filter((c) => c.entries.some(isShown));
        expect(cards).toHaveLength(count);
      }
  }
});

test('every entry stands on one card, with all that go out with it', () => {
  const entries = someEntries(3);
  const cards = cardsOf(entries);
  expect(cards.flatMap((c) => c.entries).toSorted((a, b) => Number(a.key) - Number(b.key))).toEqual(entries);
  for (const { date, time, entries: of } of cards)
    expect(of.every((e) => e.date === date && e.time === time)).toBe(true);
});

test('the days of all views over the same time hold the same entries', () => {
  const entries = someEntries(5);
  const month = spanOf('month', '2026-03-18', '2026-03-01');
  const within = (from: string, to: string) => entries.filter((e) => from <= e.date && e.date <= to).length;
  const byDay = daysOf(month).reduce((sum, day) => sum + within(day, day), 0);
  let byWeek = 0;
  for (let on = month.from; on <= month.to; on = spanOf('lanes', on, on).after) {
    const week = spanOf('lanes', on, on);
    byWeek += within(week.from, week.to);
  }
  expect([byDay, byWeek]).toEqual([within(month.from, month.to), within(month.from, month.to)]);
});

test('each view goes on to where the last one ended, and back', () => {
  for (const { value } of views.filter((v) => v.value !== 'list' && v.value !== 'wall')) {
    const span = spanOf(value, '2028-02-29', '2026-01-01');
    const after = spanOf(value, span.after, '2026-01-01');
    expect(spanOf(value, after.before, '2026-01-01')).toEqual({ ...span });
    if (value !== 'month') expect(after.from).toBe(addDays(span.to, 1));
  }
  expect(spanOf('month', '2026-02-10', '')).toMatchObject({ from: '2026-01-26', to: '2026-03-01' });
});

test('the longest stretch without any lies between weeks with some', () => {
  const weeks = (...marks: number[]) => marks.map((m, i) => (m ? addDays('2026-01-05', i * 7) : null));
  expect(longestGap(weeks(0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0))).toEqual({ from: '2026-02-09', weeks: 3 });
  expect(longestGap(weeks(1, 0, 0, 1))).toBeNull();
  expect(longestGap(weeks(0, 0))).toBeNull();
});

test('the page shows what a file of the same address holds', () => {
  // Kept cases that the server's tests read as well, by which it narrows what it writes into a file.
  const kept = JSON.parse(readFileSync(join(__dirname, '../../../../tests/Shared/filters.json'), 'utf8')) as {
    groups: Record<string, string[]>;
    entries: Entry[];
    cases: { query: string; shown: string[] }[];
  };
  const groups = new Map(Object.entries(kept.groups));
  for (const { query, shown } of kept.cases) {
    const filters = readFilters(new URLSearchParams(query));
    // A file leaves empty places out unless they are asked for.
    const isIn = (entry: Entry) => filters.state.length > 0 || entryForm(entry) !== 'empty';
    expect(
      kept.entries.filter((e) => narrows(filters, groups)(e) && isIn(e)).map((e) => e.key),
      query,
    ).toEqual(shown);
  }
});
