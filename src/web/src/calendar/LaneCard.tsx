import { memo } from 'react';
import { type Category, edgeOf, Monogram } from '../categories/categories';
import { entryEdge, entryWord, failed, mayChange } from '../deliveries/states';
import type { PostTime } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { cardDrag } from '../lineup/moving';
import { clock } from '../time/dates';
import { cardName } from './cardName';
import { type Look, useLook } from './look';

interface Props {
  entry: Entry;
  /** The post at its time on all its channels. */
  card: PostTime | undefined;
}

/** One entry in the lane of its channel. A week may hold a thousand of them. */
export function LaneCard({ entry, card }: Props) {
  const { categories, channels, parts, open, onOpen, chosen, isChoosing, onChoose } = useLook();
  return (
    <DrawnCard
      entry={entry}
      card={card}
      category={categories.get(entry.categoryId ?? '')}
      channel={channels.get(entry.channelId)?.name}
      parts={parts}
      isOpen={entry.key === open}
      isChosen={card !== undefined && chosen.has(card.key)}
      isChoosing={isChoosing}
      onOpen={onOpen}
      onChoose={onChoose}
    />
  );
}

interface DrawnProps extends Props, Pick<Look, 'parts' | 'isChoosing' | 'onOpen' | 'onChoose'> {
  category: Category | undefined;
  channel: string | undefined;
  isOpen: boolean;
  isChosen: boolean;
}

/** Drawn anew only where something of itself has changed. */
const DrawnCard = memo(function DrawnCard(props: DrawnProps) {
  const { entry, card, category, channel, parts, isOpen, isChosen, isChoosing, onOpen, onChoose } = props;
  const word = entryWord(entry);
  const trouble = failed(entry.state) && !entry.dealtWith;
  const title = entry.title ?? (category ? `No ${category.name} post` : 'Yours to fill');
  // The edge says that a projection may change, and only to sight: it is in the name, the sheet and the legend.
  const saysState = word !== mayChange;
  const seen = [
    clock(entry.time),
    parts.has('category') && category?.monogram,
    saysState && word,
    parts.has('title') && title,
  ];
  const more = [!saysState && word, !parts.has('title') && title, category?.name, channel];
  return (
    <button
      type="button"
      ref={cardDrag(entry, card?.entries ?? [entry])}
      data-entry={entry.key}
      data-card={card?.key}
      data-state={entry.state ?? entry.kind}
      aria-label={cardName(entry.date, seen, more)}
      aria-pressed={isOpen || isChosen}
      onClick={(event) =>
        card && (isChoosing || event.ctrlKey || event.metaKey) ? onChoose([card.key]) : onOpen(entry.key)
      }
      style={edgeOf(category)}
      className={`block w-full rounded-sm py-1 pr-1.5 pl-2 text-left text-[0.8rem] leading-snug hover:bg-wash ${entryEdge(entry)} data-lit:bg-wash data-over:outline-2 data-over:outline-dawn data-taken:opacity-40 ${isOpen ? 'outline-2 outline-dawn' : ''} ${isChosen ? 'bg-dawn-wash outline-1 outline-dawn' : ''}`}
    >
      <span className="flex flex-wrap items-center gap-x-1.5">
        {isChosen && <span aria-hidden="true">✓</span>}
        <span className="font-head font-semibold">{clock(entry.time)}</span>{' '}
        {parts.has('category') && <Monogram category={category} />}{' '}
        {saysState && (
          <span
            className={`ml-auto min-w-0 text-right text-[0.7rem] leading-tight ${trouble ? 'font-semibold text-bad' : '@max-[4.5rem]/lane:sr-only text-faded'}`}
          >
            {word}
          </span>
        )}
      </span>{' '}
      {parts.has('title') && (
        <span className={`mt-0.5 line-clamp-2 ${entry.kind === 'empty' ? 'text-faded italic' : ''}`}>{title}</span>
      )}
    </button>
  );
});
