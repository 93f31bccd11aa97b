// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, expect, test } from 'vitest';
import type { Category } from '../categories/categories';
import type { Channel } from '../channels/channels';
import { entryWord } from '../deliveries/states';
import { cardsOf } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { LaneCard } from './LaneCard';
import { type CardPart, cardParts, type Look, LookContext } from './look';
import { PostCard } from './PostCard';

afterEach(cleanup);

const categories = [{ id: 'c', name: 'Walks & stays', colour: 'tide', monogram: 'Wa' }] as unknown as Category[];
const channels = [
  { id: 'a', name: 'The hut', network: 'jot' },
  { id: 'b', name: 'The page', network: 'hearth' },
] as unknown as Channel[];

/** What a card may be: a projection or a place kept free, with each state, given, moved, waiting, with a title or none. */
const cases: Entry[] = [
  ['projected', null],
  ['empty', null],
  ...['planned', 'waitingForApproval', 'sending', 'sent', 'refused', 'mayHaveGoneOut', 'postItYourself', 'missed'].map(
    (state) => ['delivery', state],
  ),
].flatMap(([kind, state]) =>
  [true, false].flatMap((of) =>
    [{}, ...(kind === 'projected' ? [{ isWaiting: true }, { isGiven: true, isPicked: true }] : [])].map(
      (more, i) =>
        ({
          key: `${kind} ${state} ${of} ${i}`,
          kind,
          state,
          date: '2026-12-05',
          time: '09:00:00',
          channelId: 'a',
          categoryId: of ? 'c' : null,
          postId: kind === 'empty' ? null : 'post',
          title: kind === 'empty' ? null : 'A title, said on the card',
          origin: { kind: 'place', id: 'slot', date: '2026-12-05', time: null },
          placeState: kind === 'empty' ? 'open' : null,
          dealtWith: false,
          may: [],
          ...more,
        }) as unknown as Entry,
    ),
  ),
);

function around(parts: readonly CardPart[], what: ReactNode) {
  const look = {
    parts: new Set(parts),
    categories: new Map(categories.map((c) => [c.id, c])),
    channels: new Map(channels.map((c) => [c.id, c])),
    chosen: new Set<string>(),
    open: null,
  } as unknown as Look;
  return (
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { enabled: false } } })}>
      <LookContext value={look}>{what}</LookContext>
    </QueryClientProvider>
  );
}

/** Nothing, each part alone, all but each, and all. */
const all = cardParts.map((part) => part.value);
const sets: CardPart[][] = [[], ...all.map((part) => [part]), ...all.map((part) => all.filter((p) => p !== part)), all];

const folded = (text: string) => text.replace(/\s+/g, ' ').trim().toLowerCase();

/** What is seen of each button, and what it is called. */
function seenAndNames(drawn: ReactNode): [string, string][] {
  const { container } = render(drawn);
  const found = [...container.querySelectorAll('button')].map((button): [string, string] => {
    const copy = button.cloneNode(true) as HTMLElement;
    for (const hidden of copy.querySelectorAll('[aria-hidden=true], svg')) hidden.remove();
    return [folded(copy.textContent ?? ''), folded(button.getAttribute('aria-label') ?? '')];
  });
  cleanup();
  return found;
}

// WCAG 2.5.3, Label in Name: the name holds what is seen, as it is seen.
test('whatever stands on a card in a lane is part of its name, in its order', () => {
  for (const parts of sets) {
    const cards = cases.map((entry) => <LaneCard key={entry.key} entry={entry} card={cardsOf([entry])[0]} />);
    seenAndNames(around(parts, cards)).forEach(([seen, name], i) => {
      expect(seen).toContain('09:00');
      expect(name, `${cases[i]?.key} with ${parts}`).toContain(seen);
      expect(name).toContain(entryWord(cases[i] as Entry));
    });
  }
});

test.each(['leaf', 'line', 'wide'] as const)('whatever stands on a post’s card as a %s is part of its name', (as) => {
  for (const parts of sets) {
    const cards = cases
      .flatMap((entry) => cardsOf([entry, { ...entry, key: `${entry.key} too`, channelId: 'b' }]))
      .map((card) => <PostCard key={card.entries[0].key} card={card} as={as} />);
    const drawn = seenAndNames(around(parts, cards));
    expect(drawn.length).toBe(cases.length);
    drawn.forEach(([seen, name], i) => {
      expect(seen).toContain('09:00');
      expect(name, `${cases[i]?.key} with ${parts}`).toContain(seen);
    });
  }
});
