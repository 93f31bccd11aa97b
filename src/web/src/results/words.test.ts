import { expect, test } from 'vitest';
import type { CategoryResult } from './results';
import { index, inTen, share, times, verdictWords, whole } from './words';

test('what is missing is a dash, what is nought is nought', () => {
  expect([whole(null), share(undefined), index(null)]).toEqual(['–', '–', '–']);
  expect([whole(0), share(0), index(0)]).toEqual(['0', '0.0%', '0.00']);
});

test('shares are said as one says them', () => {
  expect([0.42, 0.15, 0.61, 1, 0.98, 0].map(inTen)).toEqual([
    '4 in 10',
    '2 in 10',
    '6 in 10',
    'all',
    'nearly all',
    'nothing',
  ]);
  expect([0.1, 0.0833, 0.04, 0.021, 0.004].map(inTen)).toEqual([
    '1 in 10',
    '1 in 12',
    '1 in 25',
    '1 in 50',
    'less than 1 in 100',
  ]);
  expect([0.456, 1.38, 12.4].map(times)).toEqual(['0.46', '1.4', '12']);
});

const row = (given: Partial<CategoryResult>): CategoryResult => ({
  categoryId: 'c',
  posts: 34,
  deliveries: 60,
  leftOut: 0,
  shareOfDeliveries: 0.3,
  total: 900,
  rate: null,
  median: 12,
  shareOfTotal: 0.4,
  index: 1.33,
  adjusted: { value: 1.38, low: 1.1, high: 1.7 },
  verdict: 'more',
  isLevel: false,
  isSeeming: false,
  compared: 60,
  explanations: [],
  without: [],
  ...given,
});
const words = (given: Partial<CategoryResult>, isRate = false) =>
  verdictWords(row(given), isRate, (id) => (id === 'large' ? 'the large page' : id));

test('a verdict is one plain sentence, and sure only where the method is', () => {
  expect(words({})).toBe('Earns about 1.4 times its share; fairly sure, 34 posts.');
  expect(words({}, true)).toBe('Earns about 1.4 times the usual rate; fairly sure, 34 posts.');
  expect(words({ verdict: 'tooFew', posts: 1, adjusted: null })).toBe('Too few to tell: 1 post.');
  expect(words({ verdict: 'nothing', posts: 9 })).toBe('0 in 9 posts.');
  const unclear = { verdict: 'noClearDifference', posts: 12, adjusted: { value: 1.2, low: 0.8, high: 1.9 } } as const;
  expect(words(unclear)).toBe('No clear difference: 0.8 to 1.9 times its share, 12 posts.');
});

test('what can be said without a post on which all would rest is said so', () => {
  expect(words({ without: ['p'] })).toBe(
    'Earns about 1.4 times its share; fairly sure, 33 posts, without one on which all would rest.',
  );
});

test('what the plain figure is due to is said in each case in which it lies outside the interval', () => {
  const explanations = [
    { channelId: 'large', daypart: null, isPeriod: false, isSeldom: false, ratio: 1.9 },
    {
      channelId: null,
      daypart: { part: 'evening' as const, isWeekend: false, level: 8 },
      isPeriod: false,
      isSeldom: false,
      ratio: 1.2,
    },
  ];
  const due = 'because it goes out on the large page and in the evening on weekdays.';
  const level = { isLevel: true, isSeeming: true, index: 2.1, adjusted: { value: 1.02, low: 0.9, high: 1.2 } };
  expect(words({ ...level, verdict: 'noClearDifference', explanations })).toBe(
    `Level with the others: 0.9 to 1.2 times its share, 34 posts. It looks better as it stands ${due}`,
  );
  const unclear = { isSeeming: true, index: 0.2, adjusted: { value: 0.9, low: 0.5, high: 1.7 } };
  expect(words({ ...unclear, verdict: 'noClearDifference', explanations })).toBe(
    `No clear difference: 0.5 to 1.7 times its share, 34 posts. It looks worse as it stands ${due}`,
  );
  expect(words({ isSeeming: true, index: 2.1, explanations })).toBe(
    `Earns about 1.4 times its share; fairly sure, 34 posts. It looks better as it stands ${due}`,
  );
  expect(words({ isSeeming: true, index: 0.2 })).toContain('It looks worse as it stands, for where and when');
});

test('over what the method may answer, a sentence says no more than verdict and interval do', () => {
  for (const verdict of [
    'more',
    'less',
    'noClearDifference',
    'tooFew',
    'onePost',
    'apart',
    'noAnswer',
    'nothing',
  ] as const)
    for (const low of [0.2, 0.79, 0.81, 1.01, 1.3])
      for (const high of [0.9, 1.1, 1.24, 1.26, 3].filter((h) => h > low))
        for (const index of [null, 0.1, 1, 4]) {
          const adjusted = { value: Math.sqrt(low * high), low, high };
          const isLevel = verdict === 'noClearDifference' && low >= 0.8 && high <= 1.25;
          const isSeeming = index !== null && (index < low || index > high);
          const said = words({ verdict, adjusted, index, isLevel, isSeeming });
          const isCompared = ['more', 'less', 'noClearDifference'].includes(verdict);
          expect(said.includes('fairly sure')).toBe(verdict === 'more' || verdict === 'less');
          expect(said.includes('Level')).toBe(isLevel);
          expect(said.includes('No clear difference')).toBe(verdict === 'noClearDifference' && !isLevel);
          expect(said.includes('as it stands')).toBe(isCompared && isSeeming);
          if (isCompared && isSeeming) expect(said.includes('better')).toBe((index ?? 1) > high);
        }
});
