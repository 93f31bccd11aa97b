import { dayWords } from '../time/dates';

type Part = string | false | undefined;

/** The name of a card: what stands on it, in its order (so that it can be called by what is seen), then what sight gets from its place
 * around it. */
export const cardName = (date: string, seen: readonly Part[], more: readonly Part[]) =>
  [dayWords(date), seen.filter(Boolean).join(' '), more.filter(Boolean).join(', ')].filter(Boolean).join(', ');
