import { memo } from 'react';
import { type Category, edgeOf, Monogram } from '../categories/categories';
import type { Channel } from '../channels/channels';
import { entryEdge, entryWord, failed } from '../deliveries/states';
import { NetworkMark } from '../networks/networks';
import { clock, dayWords } from '../time/dates';
import type { Entry } from './lineup';
import { cardDrag } from './moving';

interface Props {
  entry: Entry;
  category: Category | undefined;
  channel: Channel | undefined;
  lanes: 'channel' | 'category';
  chosen: boolean;
  onChoose: (key: string) => void;
}

/** One entry in a lane. The lane says the channel or the category; the card says the other. A week may hold a thousand of them. */
export const Card = memo(function Card({ entry, category, channel, lanes, chosen, onChoose }: Props) {
  const word = entryWord(entry);
  const trouble = failed(entry.state) && !entry.dealtWith;
  const empty = entry.kind === 'empty';
  return (
    <button
      type="button"
      ref={cardDrag(entry)}
      data-entry={entry.key}
      data-state={entry.state ?? entry.kind}
      aria-pressed={chosen}
      onClick={() => onChoose(entry.key)}
      style={edgeOf(category)}
      className={`block w-full rounded-sm py-1 pr-1.5 pl-2 text-left text-[0.8rem] leading-snug hover:bg-wash ${entryEdge(entry)} data-over:outline-2 data-over:outline-dawn data-taken:opacity-40 ${chosen ? 'outline-2 outline-dawn' : ''}`}
    >
      <span className="flex items-center gap-1.5">
        <span className="sr-only">{dayWords(entry.date)} </span>
        <span className="font-head font-semibold">{clock(entry.time)}</span>
        {lanes === 'channel' ? (
          <Monogram category={category} />
        ) : (
          <NetworkMark network={channel?.network ?? ''} size={13} />
        )}
        <StateWord word={word} trouble={trouble} className="ml-auto hidden pr-2 @min-[8.2rem]:inline" />
      </span>
      <span className={`mt-0.5 line-clamp-2 ${empty ? 'text-faded italic' : ''}`}>
        {entry.title ?? (category ? `No ${category.name} post` : 'Yours to fill')}
      </span>
      <StateWord word={word} trouble={trouble} className="block @min-[8.2rem]:hidden" />
      <span className={lanes === 'category' ? 'block truncate text-[0.7rem] text-faded' : 'sr-only'}>
        {channel?.name}
      </span>
    </button>
  );
});

function StateWord({ word, trouble, className }: { word: string; trouble: boolean; className: string }) {
  return (
    <span className={`truncate text-[0.7rem] ${trouble ? 'font-semibold text-bad' : 'text-faded'} ${className}`}>
      {word}
    </span>
  );
}
