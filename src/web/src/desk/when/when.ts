import { dayWords } from '../../time/dates';
import { channelCount } from '../networks/reach';

/** When a post is to go out, as it is being chosen. */
export type When =
  | { kind: 'rotation' }
  | { kind: 'firstFree' }
  | { kind: 'veryNext' }
  | ({ kind: 'time' } & Given)
  | { kind: 'now' }
  | { kind: 'draft' };

/** An exact time. */
export interface Given {
  date: string;
  time: string;
  /** The coming of a key date that it stands relative to (see `comingKey`); empty: none. */
  keyDate: string;
}

export type WhenKind = When['kind'];

export const whenWords: Record<WhenKind, string> = {
  rotation: 'Into rotation',
  firstFree: 'First free place',
  veryNext: 'Very next place',
  time: 'Date and time',
  now: 'Now',
  draft: 'Keep as draft',
};

/** What stands in the way of an act, and what it would do. */
export interface Prospect {
  when: When;
  /** Channels that can take it. */
  able: number;
  /** Somebody has to say yes first. */
  asks: boolean;
  /** The places that booking would give: channels, and the first of them as "Thu 3 Dec, 17:00"; null: not known yet. */
  places: { channels: number; first: string } | null;
  /** True for a post that the rota draws already. */
  isReady: boolean;
}

/** What the one button will do. */
export function actWords({ when, able, asks, places, isReady }: Prospect): string {
  const on = `on ${channelCount(able)}`;
  switch (when.kind) {
    case 'draft':
      return isReady ? 'Back to a draft' : 'Keep as draft';
    case 'rotation':
      return asks ? 'Ask for approval' : 'Put it into rotation';
    case 'now':
      return `Send now ${on.replace('on ', 'to ')}`;
    case 'time': {
      const at = `for ${dayWords(when.date)}, ${when.time} ${on}`;
      return asks ? `Ask for approval ${at}` : `Schedule ${at}`;
    }
    default: {
      const at = places ? `${places.first} on ${channelCount(places.channels)}` : whenWords[when.kind].toLowerCase();
      return asks ? `Ask for approval, and book ${at}` : `Book ${at}`;
    }
  }
}

/** What stands in the way; null: nothing. */
export function hindrance({ when, able, asks, places }: Prospect, hasContent: boolean): string | null {
  if (when.kind === 'draft') return null;
  if (!hasContent) return 'Write something first.';
  if (when.kind === 'rotation') return null;
  if (able === 0) return 'No channel can take it as it is.';
  if (when.kind === 'now' && asks) return 'It needs approval before it can go out.';
  if ((when.kind === 'firstFree' || when.kind === 'veryNext') && places?.channels === 0)
    return 'The recurring week has no place for it.';
  return null;
}
