import { edgeOf, Monogram, useCategory } from '../categories/categories';
import { useChannel } from '../channels/channels';
import { entryEdge, entryWord, failed } from '../deliveries/states';
import { NetworkMark } from '../networks/networks';
import { clock, dayWords } from '../time/dates';
import { useCardDrag, useCardKeys } from './drag';
import type { Entry } from './lineup';

interface Props {
  entry: Entry;
  lanes: 'channel' | 'category';
  chosen: boolean;
  onChoose: () => void;
}

/** One entry in a lane. The lane says the channel or the category; the card says the other. */
export function Card({ entry, lanes, chosen, onChoose }: Props) {
  const category = useCategory(entry.categoryId);
  const channel = useChannel(entry.channelId);
  const word = entryWord(entry);
  const trouble = failed(entry.state) && !entry.dealtWith;
  const empty = entry.kind === 'empty';
  const drag = useCardDrag(entry);
  const onKeyDown = useCardKeys(entry);
  return (
    <button
      type="button"
      ref={drag.ref}
      {...drag.listeners}
      onKeyDown={onKeyDown}
      data-entry={entry.key}
      data-state={entry.state ?? entry.kind}
      aria-pressed={chosen}
      onClick={onChoose}
      style={edgeOf(category)}
      className={`@container block w-full rounded-sm bg-leaf py-1 pr-1.5 pl-2 text-left text-[0.8rem] leading-snug hover:bg-wash ${entryEdge(entry)} ${chosen || drag.isOver ? 'outline-2 outline-dawn' : ''} ${drag.isDragging ? 'opacity-40' : ''}`}
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
}

function StateWord({ word, trouble, className }: { word: string; trouble: boolean; className: string }) {
  return (
    <span className={`truncate text-[0.7rem] ${trouble ? 'font-semibold text-bad' : 'text-faded'} ${className}`}>
      {word}
    </span>
  );
}
