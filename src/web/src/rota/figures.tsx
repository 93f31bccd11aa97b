import { useEffect, useState } from 'react';
import { shortDay } from '../time/dates';
import type { WhatIf } from './rota';

type Of = WhatIf['after']['categories'][number];

/** A category as it would be, and as it is where something is being changed. */
export interface Line {
  id: string;
  before: Of | undefined;
  after: Of;
}

export const lineOf = (whatIf: WhatIf, after: Of, isChanged: boolean): Line => ({
  id: after.categoryId,
  after,
  before: isChanged ? whatIf.before.categories.find((c) => c.categoryId === after.categoryId) : undefined,
});

export const percent = (share: number) => `${Math.round(share * 100)} %`;

const date = (value: string | null | undefined, weeks: number) => (value ? shortDay(value) : `beyond ${weeks} w`);

interface Figure {
  name: string;
  title?: string;
  of: (c: Of, weeks: number) => string;
}

/** What a look-ahead says of a category, in the order in which it is asked. */
export const figures: readonly Figure[] = [
  { name: 'To send', of: (c) => String(c.deliveries) },
  { name: 'Empty', title: 'Places with nothing to send', of: (c) => String(c.runway?.empty ?? 0) },
  {
    name: 'New ones last until',
    of: (c, weeks) => (c.runway?.shareOfRepeats === 1 ? 'none new' : date(c.runway?.newLastUntil, weeks)),
  },
  { name: 'First repeat', of: (c, weeks) => date(c.runway?.firstRepeat, weeks) },
  { name: 'Shortest gap', of: (c) => (c.runway?.shortestGap ? `${c.runway.shortestGap} d` : '–') },
  {
    name: 'Repeats',
    title: 'Share of its deliveries',
    of: (c) => (c.runway ? percent(c.runway.shareOfRepeats) : '–'),
  },
  {
    name: 'Posts missing',
    title: 'For its repeat gap to hold',
    of: (c) => String(c.runway?.postsMissing ?? 0),
  },
];

/** A figure of a category, and what it is now where that is another. */
export const Was = ({ line, of }: { line: Line; of: (c: Of) => string }) => (
  <Differs before={line.before && of(line.before)} after={of(line.after)} />
);

/** What would be, and what is where that is another. */
export function Differs({ before, after }: { before: string | undefined; after: string }) {
  if (before === undefined || before === after) return <>{after}</>;
  return (
    <>
      <span className="mr-1.5 text-faded line-through">{before}</span>
      <b>{after}</b>
    </>
  );
}

export const changeWords = ({ firstChange, placesThatChange }: WhatIf) =>
  firstChange
    ? `First change on ${shortDay(firstChange)}; ${placesThatChange} ${placesThatChange === 1 ? 'place' : 'places'} would be other than now.`
    : 'Nothing that goes out would change.';

/** The value once it has stood still for a moment. */
export function useScheduled<T>(value: T, ms: number): T {
  const [scheduled, setScheduled] = useState(value);
  const written = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setScheduled(JSON.parse(written) as T), ms);
    return () => clearTimeout(timer);
  }, [written, ms]);
  return scheduled;
}
