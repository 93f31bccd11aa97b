import { memo, useContext } from 'react';
import { type Category, edgeOf, Monogram } from '../categories/categories';
import type { Channel } from '../channels/channels';
import { entryForm, entryWord, type Form, failed } from '../deliveries/states';
import type { PostTime } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { cardDrag } from '../lineup/moving';
import { NetworkMark } from '../networks/networks';
import { clock } from '../time/dates';
import { cardName } from './cardName';
import { type Look, ShownContext, useLook } from './look';

/** The form that a card on several channels has: what needs somebody first. */
const weight: readonly Form[] = ['failed', 'sending', 'open', 'scheduled', 'sent', 'empty'];

export function formOf(entries: readonly Entry[]): Form {
  const forms = new Set(entries.map(entryForm));
  return weight.find((form) => forms.has(form)) ?? 'empty';
}

export const isTrouble = (entry: Entry) => failed(entry.state) && !entry.dealtWith;

/** The state of a card in words: one for all channels, or how many are otherwise. */
export function wordsOfCard(entries: readonly Entry[]): string {
  const words = [...Map.groupBy(entries, entryWord)].toSorted((a, b) => b[1].length - a[1].length);
  return words.length === 1 ? (words[0]?.[0] ?? '') : words.map(([word, of]) => `${word} on ${of.length}`).join(', ');
}

interface Props {
  card: PostTime;
  /** `line`: nothing but one line. `wide`: one line with the channels' names. */
  as?: 'leaf' | 'line' | 'wide';
}

/** One post at one time, with its channels as marks. */
export function PostCard({ card, as = 'leaf' }: Props) {
  const { categories, channels, parts, open, onOpen, chosen, isChoosing, onChoose } = useLook();
  const isShown = useContext(ShownContext);
  const hidden = card.entries.filter((e) => !isShown(e)).map((e) => e.key);
  return (
    <DrawnCard
      card={card}
      as={as}
      category={categories.get(card.entries[0].categoryId ?? '')}
      channels={channels}
      parts={parts}
      isOpen={card.entries.some((e) => e.key === open)}
      isChosen={chosen.has(card.key)}
      isChoosing={isChoosing}
      pale={hidden.join('\n')}
      onOpen={onOpen}
      onChoose={onChoose}
    />
  );
}

interface DrawnProps extends Required<Props>, Pick<Look, 'channels' | 'parts' | 'isChoosing' | 'onOpen' | 'onChoose'> {
  category: Category | undefined;
  isOpen: boolean;
  isChosen: boolean;
  /** Keys of the entries that the filters leave out, a line each. */
  pale: string;
}

/** Drawn anew only where something of itself has changed: a view holds hundreds of them. */
const DrawnCard = memo(function DrawnCard(props: DrawnProps) {
  const { card, as, category, channels, parts, isOpen, isChosen, isChoosing, pale, onOpen, onChoose } = props;
  const compact = as !== 'leaf';
  const first = card.entries[0];
  const form = formOf(card.entries);
  const trouble = card.entries.some(isTrouble);
  const title = first.title ?? (category ? `No ${category.name} post` : 'Yours to fill');
  const state = wordsOfCard(card.entries);
  const saysState = as === 'wide' || parts.has('state') || (trouble && !compact);
  const on = card.entries.map((e) => channels.get(e.channelId)?.name ?? '').join(', ');
  const seen = [
    clock(card.time),
    parts.has('category') && category?.monogram,
    parts.has('title') && title,
    as === 'wide' &&
      parts.has('channels') &&
      card.entries
        .slice(0, mostMarks)
        .map((e) => channels.get(e.channelId)?.name)
        .join(' '),
    saysState && state,
  ];
  return (
    <button
      type="button"
      ref={cardDrag(first, card.entries)}
      data-entry={first.key}
      data-card={card.key}
      data-state={first.state ?? first.kind}
      aria-label={cardName(card.date, seen, [title, category?.name, `on ${on}`, state])}
      aria-pressed={isOpen || isChosen}
      onClick={(event) => (isChoosing || event.ctrlKey || event.metaKey ? onChoose([card.key]) : onOpen(first.key))}
      style={edgeOf(category)}
      className={`block w-full rounded-sm text-left text-[0.8rem] leading-snug hover:bg-wash edge-${form} data-over:outline-2 data-over:outline-dawn data-taken:opacity-40 ${
        as === 'line' ? 'min-h-[24px] pr-1 pl-2.5' : 'py-1 pr-1.5 pl-2.5'
      } ${isOpen ? 'outline-2 outline-dawn' : ''} ${isChosen ? 'bg-dawn-wash outline-1 outline-dawn' : ''}`}
    >
      <span className="flex min-w-0 items-center gap-x-1.5">
        {isChosen && <span aria-hidden="true">✓</span>}
        <span className="font-head font-semibold">{clock(card.time)}</span>{' '}
        {parts.has('category') && <Monogram category={category} />}{' '}
        {compact && parts.has('title') && (
          <span className={`min-w-0 flex-1 truncate ${first.postId ? '' : 'text-faded italic'}`}>{title}</span>
        )}{' '}
        {parts.has('channels') && (
          <Marks entries={card.entries} channels={channels} pale={pale.split('\n')} named={as === 'wide'} />
        )}{' '}
        {as === 'wide' && (
          <span
            className={`shrink-0 text-right min-[800px]:w-40 text-[0.8rem] ${trouble ? 'font-semibold text-bad' : 'text-faded'}`}
          >
            {state}
          </span>
        )}
      </span>{' '}
      {!compact && parts.has('title') && (
        <span className={`mt-0.5 line-clamp-2 ${first.postId ? '' : 'text-faded italic'}`}>{title}</span>
      )}{' '}
      {as !== 'wide' && saysState && (
        <span className={`block truncate text-[0.7rem] ${trouble ? 'font-semibold text-bad' : 'text-faded'}`}>
          {state}
        </span>
      )}
    </button>
  );
});

/** Most marks that stand side by side; more are counted. */
const mostMarks = 8;

interface MarksProps {
  entries: readonly Entry[];
  channels: ReadonlyMap<string, Channel>;
  pale: readonly string[];
  named: boolean;
}

/** Channels as marks: what failed is struck, what waits is hollow, and what the filters leave out is pale. */
function Marks({ entries, channels, pale, named }: MarksProps) {
  return (
    <span
      className={`ml-auto flex shrink-0 flex-wrap items-center justify-end gap-0.5 ${named ? '' : '@max-[67rem]/weeks:hidden'}`}
    >
      {entries.slice(0, mostMarks).map((entry) => {
        const channel = channels.get(entry.channelId);
        const waits = entry.isWaiting || entry.state === 'waitingForApproval';
        return (
          <span
            key={entry.key}
            title={`${channel?.name}: ${entryWord(entry)}${entry.isMoved ? ', moved' : ''}`}
            data-mark={entryForm(entry)}
            className={`inline-flex items-center rounded-full ${pale.includes(entry.key) ? 'opacity-35' : ''} ${
              isTrouble(entry)
                ? 'bg-bad-wash outline-2 outline-bad'
                : waits
                  ? 'outline-1 outline-dawn outline-dashed'
                  : ''
            } ${entry.isMoved ? 'border-dawn border-b-2' : ''}`}
          >
            <NetworkMark network={channel?.network ?? ''} size={12} />
            {named && <span className="pr-2 pl-1 max-[800px]:sr-only">{channel?.name}</span>}{' '}
          </span>
        );
      })}
      {entries.length > mostMarks && (
        <span aria-hidden="true" className="text-[0.7rem] text-faded">
          +{entries.length - mostMarks}
        </span>
      )}
    </span>
  );
}
