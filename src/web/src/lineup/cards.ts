import type { Entry } from './lineup';

/** One post at one time, or one place with nothing to send: what it does on each channel is an entry of its own. */
export interface PostTime {
  key: string;
  date: string;
  time: string;
  /** On all channels, in their order in the line-up. */
  entries: readonly [Entry, ...Entry[]];
}

export const cardKey = (entry: Entry) => `${entry.date}|${entry.time}|${entry.postId ?? entry.origin.id}`;

/** Entries put together by post and time, in order of time. */
export function cardsOf(entries: readonly Entry[]): PostTime[] {
  return [...Map.groupBy(entries, cardKey)].map(([key, of]) => {
    const all = of as [Entry, ...Entry[]];
    return { key, date: all[0].date, time: all[0].time, entries: all };
  });
}
