import { useQuery } from '@tanstack/react-query';

export interface Emoji {
  unicode: string;
  label: string;
  tags?: string[];
  group?: number;
}

/** All emoji, from the Unicode consortium's data as the package `emojibase-data` ships it; fetched when first needed. */
export function useEmoji(enabled: boolean) {
  return useQuery({
    queryKey: ['emoji'],
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async (): Promise<Emoji[]> => {
      const all = (await import('emojibase-data/en/compact.json')).default as Emoji[];
      // Letters of flags and single parts are no emoji of their own.
      return all.filter((e) => e.group !== undefined);
    },
  });
}

/** Those whose name or a tag begins with each of the words; names first. */
export function findEmoji(all: readonly Emoji[], sought: string): Emoji[] {
  const words = sought.toLowerCase().trim().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [...all];
  const begins = (text: string, word: string) => text.split(/[\s:-]+/).some((part) => part.startsWith(word));
  const byName = all.filter((e) => words.every((w) => begins(e.label, w)));
  const byTag = all.filter(
    (e) => !byName.includes(e) && words.every((w) => [e.label, ...(e.tags ?? [])].some((t) => begins(t, w))),
  );
  return [...byName, ...byTag];
}

export const groupNames: readonly [number, string, string][] = [
  [0, '☺', 'Smileys'],
  [1, '👋', 'People'],
  [3, '🐦', 'Animals and nature'],
  [4, '🍏', 'Food and drink'],
  [5, '⛵', 'Travel and places'],
  [6, '⚽', 'Activities'],
  [7, '🔑', 'Objects'],
  [8, '❤', 'Symbols'],
  [9, '🏁', 'Flags'],
];
