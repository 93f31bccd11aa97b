import { diffWordsWithSpace } from 'diff';
import { useMemo } from 'react';

/** Longer ones are shown one after the other: what differs could no longer be followed. */
const most = 20_000;

/** Two texts as one, word by word: what is gone is struck, what is new stands out. */
export function WordChanges({ before, after }: { before: string; after: string }) {
  const parts = useMemo(
    () =>
      before.length + after.length > most
        ? [
            { value: before, removed: true, added: false },
            { value: after, removed: false, added: true },
          ]
        : diffWordsWithSpace(before, after),
    [before, after],
  );
  return (
    <span className="whitespace-pre-wrap break-words">
      {parts.map((part, i) =>
        part.removed ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of one comparison, in their order
          <del key={i} className="text-bad">
            {part.value}
          </del>
        ) : part.added ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of one comparison, in their order
          <ins key={i} className="bg-leaf font-medium text-good no-underline">
            {part.value}
          </ins>
        ) : (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts of one comparison, in their order
          <span key={i}>{part.value}</span>
        ),
      )}
    </span>
  );
}
