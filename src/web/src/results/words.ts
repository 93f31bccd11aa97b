import type { Schemas } from '../api/client';
import type { CategoryResult } from './results';

const number = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const percent = new Intl.NumberFormat('en-GB', {
  style: 'percent',
  minimumFractionDigits: 1,
  maximumFractionDigits: 1,
});
const ratio = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const rough = new Intl.NumberFormat('en-GB', { maximumSignificantDigits: 2 });

/** What is missing is shown as a dash, never as nought. */
const orDash = (write: (n: number) => string) => (value: number | null | undefined) =>
  value === null || value === undefined ? '–' : write(value);

export const whole = orDash((n) => number.format(n));
export const share = orDash((n) => percent.format(n));
export const index = orDash((n) => ratio.format(n));

/** A ratio as one says it: two digits. */
export const times = (n: number) => rough.format(n);

const list = new Intl.ListFormat('en-GB', { type: 'conjunction' });

export const listWords = (words: readonly string[]) => list.format(words);

/** A value of a measure: a rate in per cent, a count in whole numbers. */
export const measured = (isRate: boolean) => (isRate ? share : whole);

/** A share as one says it: 4 in 10, 1 in 25. */
export function inTen(value: number): string {
  if (value === 0) return 'nothing';
  if (value >= 0.975) return value > 0.9995 ? 'all' : 'nearly all';
  if (value >= 0.145) return `${Math.round(value * 10)} in 10`;
  const of = 1 / value;
  return of > 100 ? 'less than 1 in 100' : `1 in ${of < 20 ? Math.round(of) : Math.round(of / 5) * 5}`;
}

const when = ({ part, isWeekend }: Schemas['Daypart']) =>
  `${part === 'night' ? 'at night' : part === 'midday' ? 'at midday' : `in the ${part}`}${isWeekend ? ' at weekends' : ' on weekdays'}`;

/** Part of the week, as it heads a line. */
export const daypartWords = ({ part, isWeekend }: Schemas['Daypart']) =>
  `${isWeekend ? 'Weekend' : 'Weekday'}, ${part}`;

/** Where and when a category goes out that makes its figure look better, or worse, than it is; null: neither. */
function circumstances(row: CategoryResult, channelName: (id: string) => string): string | null {
  if (row.index === null || row.adjusted === null) return null;
  if (row.explanations.length === 0) return null;
  return row.explanations
    .map((e) => {
      const where = e.channelId
        ? `on ${channelName(e.channelId)}`
        : e.daypart
          ? when(e.daypart)
          : 'in weeks like these';
      return e.isSeldom ? `seldom ${where}` : where;
    })
    .join(' and ');
}

/** What the plain figure is due to, where it is another than what can be said; empty: it isn't. */
function seeming(row: CategoryResult, channelName: (id: string) => string): string {
  if (!row.isSeeming || row.index === null || row.adjusted === null) return '';
  const because = circumstances(row, channelName);
  const looks = row.index > row.adjusted.value ? 'better' : 'worse';
  return ` It looks ${looks} as it stands${because ? ` because it goes out ${because}` : ', for where and when it goes out'}.`;
}

/** What can be said of a category, in plain sentences: never more than its interval and its verdict do. */
export function verdictWords(row: CategoryResult, isRate: boolean, channelName: (id: string) => string): string {
  const left = row.without.length;
  const posts = `${row.posts - left} ${row.posts - left === 1 ? 'post' : 'posts'}${left > 0 ? `, without ${left === 1 ? 'one' : left} on which all would rest` : ''}`;
  const shareOrRate = isRate ? 'the usual rate' : 'its share';
  const range = row.adjusted && `${times(row.adjusted.low)} to ${times(row.adjusted.high)} times ${shareOrRate}`;
  switch (row.verdict) {
    case 'tooFew':
      return `Too few to tell: ${posts}.`;
    case 'nothing':
      return `0 in ${posts}.`;
    case 'apart':
      return 'Can’t be compared: it shares no channel or no hour with the others.';
    case 'onePost':
      return `What it earned can’t be told from what one post did: nothing can be said for sure.`;
    case 'noAnswer':
      return 'These figures give no answer: too few, or too far apart.';
    case 'more':
    case 'less':
      return `Earns about ${times(row.adjusted?.value ?? 1)} times ${shareOrRate}; fairly sure, ${posts}.${seeming(row, channelName)}`;
    case 'noClearDifference':
      if (!range) return `No clear difference, ${posts}.`;
      return `${row.isLevel ? 'Level with the others' : 'No clear difference'}: ${range}, ${posts}.${seeming(row, channelName)}`;
  }
}
