import type { Schemas } from '../api/client';

export type DateOrder = NonNullable<Schemas['DateOrder']>;
export type RowStatus = NonNullable<Schemas['RowStatus']>;
export type DoubleChoice = NonNullable<Schemas['DoubleChoice']>;
export type RowEnd = NonNullable<Schemas['RowEnd']>;

export const statusWords: Record<RowStatus, string> = {
  needsYou: 'Needs you',
  advice: 'Advice',
  fine: 'Fine',
  leftOut: 'Left out',
};

export const orderWords: Record<DateOrder, string> = {
  dayFirst: 'Day first',
  monthFirst: 'Month first',
  yearFirst: 'Year first',
  daysFrom1900: 'Days counted from 1900',
  daysFrom1904: 'Days counted from 1904',
  german: 'German',
  french: 'French',
  spanish: 'Spanish',
  italian: 'Italian',
  dutch: 'Dutch',
  portuguese: 'Portuguese',
};

export const choiceWords: Record<DoubleChoice, string> = {
  leaveOut: 'Leave it out',
  wording: 'Make it a wording of that post',
  update: 'Take it over into that post',
  anyway: 'Import it all the same',
};

export const delimiterWords: Record<string, string> = {
  ',': 'Comma',
  ';': 'Semicolon',
  '\t': 'Tab',
  '|': 'Bar',
};

export const count = (n: number, one: string, many = `${one}s`) => `${n.toLocaleString('en')} ${n === 1 ? one : many}`;

/** Parts of a sentence, with commas and an “and”. */
export function listed(parts: readonly string[]): string {
  return parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}

export const endWords: Record<RowEnd, string> = {
  added: 'A new post',
  joined: 'Part of the post before it',
  wording: 'Another wording',
  updated: 'Taken over',
  unchanged: 'It was there, just so',
  leftOut: 'Left out',
  refused: 'Stayed out',
};
