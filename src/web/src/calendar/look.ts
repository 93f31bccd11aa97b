import { createContext, useContext, useMemo, useRef } from 'react';
import type { Schemas } from '../api/client';
import type { Category } from '../categories/categories';
import type { Channel } from '../channels/channels';
import type { Entry } from '../lineup/lineup';

/** What may stand on a card, beside its time. */
export const cardParts = [
  { value: 'category', label: 'Category' },
  { value: 'title', label: 'Title' },
  { value: 'channels', label: 'Channels' },
  { value: 'state', label: 'State in words' },
] as const;

export type CardPart = (typeof cardParts)[number]['value'];

export const usualParts: readonly CardPart[] = ['category', 'title', 'channels'];

/** What all views of the calendar are made with. */
export interface Look {
  today: string;
  parts: ReadonlySet<CardPart>;
  categories: ReadonlyMap<string, Category>;
  channels: ReadonlyMap<string, Channel>;
  notes: readonly Schemas['NoteView'][];
  /** Key of the entry that is open. */
  open: string | null;
  onOpen: (key: string) => void;
  /** Keys of cards that are chosen to be acted on together. */
  chosen: ReadonlySet<string>;
  /** True: a press chooses a card instead of opening it. */
  isChoosing: boolean;
  onChoose: (keys: readonly string[]) => void;
  /** Address of the desk where a post for a day is begun; null where that day has passed. */
  begin: (date: string, more?: { time?: string; channel?: string; category?: string }) => string | null;
}

export const LookContext = createContext<Look | null>(null);

export function useLook(): Look {
  const look = useContext(LookContext);
  if (!look) throw new Error('No calendar around this.');
  return look;
}

/** True for entries that the filters let through: apart from the rest of the look, since it changes with each letter that is typed. */
export const ShownContext = createContext<(entry: Entry) => boolean>(() => true);

/** Cards put together by a key; a group whose cards are still the same ones stays the same list from one rendering to the next. */
export function useGroups<T>(items: readonly T[], keyOf: (item: T) => string): ReadonlyMap<string, readonly T[]> {
  const before = useRef<ReadonlyMap<string, readonly T[]>>(new Map());
  return useMemo(() => {
    const groups = new Map<string, readonly T[]>();
    for (const [key, of] of Map.groupBy(items, keyOf)) {
      const last = before.current.get(key);
      groups.set(key, last?.length === of.length && of.every((item, i) => item === last[i]) ? last : of);
    }
    before.current = groups;
    return groups;
  }, [items, keyOf]);
}

/** Things by their ids; the same map from one rendering to the next. */
export const useById = <T extends { id: string }>(list: readonly T[] | undefined): ReadonlyMap<string, T> =>
  useMemo(() => new Map((list ?? []).map((item) => [item.id, item])), [list]);
