import { memo } from 'react';
import { type Category, edgeOf, Monogram } from '../categories/categories';
import type { Channel } from '../channels/channels';
import { entryEdge, entryWord, failed, mayChange } from '../deliveries/states';
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
  const title = entry.title ?? (category ? `No ${category.name} post` : 'Yours to fill');
  // The edge says that a projection may change, and only to sight: it is in the name, the sheet and the legend.
  // What stands on the card, in its order, with what only sight gets from its place around it.
  const shown = [
    clock(entry.time),
    lanes === 'channel' && category?.monogram,
    word,
    title,
    lanes === 'category' && channel?.name,
  ]
    .filter(Boolean)
    .join(' ');
  return (
    <button
      type="button"
      ref={cardDrag(entry)}
      data-entry={entry.key}
      data-state={entry.state ?? entry.kind}
      aria-label={`${dayWords(entry.date)}, ${shown}, ${[category?.name, channel?.name].filter(Boolean).join(', ')}`}
      aria-pressed={chosen}
      onClick={() => onChoose(entry.key)}
      style={edgeOf(category)}
      className={`block w-full rounded-sm py-1 pr-1.5 pl-2 text-left text-[0.8rem] leading-snug hover:bg-wash ${entryEdge(entry)} data-over:outline-2 data-over:outline-dawn data-taken:opacity-40 ${chosen ? 'outline-2 outline-dawn' : ''}`}
    >
      <span className="flex flex-wrap items-center gap-x-1.5">
        <span className="font-head font-semibold">{clock(entry.time)}</span>{' '}
        {lanes === 'channel' ? (
          <Monogram category={category} />
        ) : (
          <NetworkMark network={channel?.network ?? ''} size={13} />
        )}{' '}
        {word !== mayChange && (
          <span
            className={`ml-auto min-w-0 text-right text-[0.7rem] leading-tight ${trouble ? 'font-semibold text-bad' : 'text-faded'}`}
          >
            {word}
          </span>
        )}
      </span>{' '}
      <span className={`mt-0.5 line-clamp-2 ${empty ? 'text-faded italic' : ''}`}>{title}</span>{' '}
      {lanes === 'category' && <span className="block truncate text-[0.7rem] text-faded">{channel?.name}</span>}
    </button>
  );
});
