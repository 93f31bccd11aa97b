import { Fragment, memo, useContext, useMemo } from 'react';
import { Link } from 'react-router';
import { CategoryName, useCategories } from '../categories/categories';
import { ChannelName, useChannels } from '../channels/channels';
import { KeyDatesOn } from '../keydates/KeyDateMark';
import { cardKey, type PostTime } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { dropCell } from '../lineup/moving';
import { addDays, shortDay, weekdayWord } from '../time/dates';
import { Choice } from '../ui/Choice';
import { useWorkspacePath } from '../workspaces/workspace';
import { DayCards } from './DayCards';
import { LaneCard } from './LaneCard';
import { ShownContext, useGroups, useLook } from './look';

interface Props {
  monday: string;
  cards: readonly PostTime[];
  /** All cards by their keys, those that the filters leave out too. */
  byKey: ReadonlyMap<string, PostTime>;
  lanes: 'channel' | 'category';
  onLanes: (lanes: 'channel' | 'category') => void;
  /** Keys of the only lanes to show; none shows all. */
  only: readonly string[];
}

const channelCell = (entry: Entry) => `${entry.channelId}|${entry.date}`;
const categoryCell = (card: PostTime) => `${card.entries[0].categoryId ?? 'none'}|${card.date}`;
const noEntries: readonly Entry[] = [];
const noCards: readonly PostTime[] = [];

const laneKinds = [
  { value: 'channel', label: 'Channel' },
  { value: 'category', label: 'Category' },
] as const;

/** A week: days across, a lane for each channel or category, posts by time. */
export function Lanes({ monday, cards, byKey, lanes, onLanes, only }: Props) {
  const { today, onChoose, begin } = useLook();
  const isShown = useContext(ShownContext);
  const days = Array.from({ length: 7 }, (_, i) => addDays(monday, i));
  const entries = useMemo(() => cards.flatMap((c) => c.entries.filter(isShown)), [cards, isShown]);
  const rows = useRows(lanes, entries).filter((row) => only.length === 0 || only.includes(row.key));
  const byChannel = useGroups(entries, channelCell);
  const byCategory = useGroups(cards, categoryCell);
  const byDay = Map.groupBy(cards, (c) => c.date);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: shows what belongs together among the cards in it, which are buttons
    <div
      onPointerOver={lightUp}
      onFocus={lightUp}
      className="grid grid-cols-[9.5rem_repeat(7,minmax(0,1fr))] border-ink border-t-[1.5px]"
    >
      <div className="sticky top-(--head) z-10 bg-paper py-0.5 text-sm print:invisible">
        <Choice label="Lanes" value={lanes} options={laneKinds} onChange={onLanes} isTight />
      </div>
      {days.map((day) => (
        <div
          key={day}
          className={`sticky top-(--head) z-10 border-rule @container flex min-w-0 items-center border-l bg-paper pl-2 ${day === today ? 'text-dawn' : ''} ${day < today ? 'text-faded' : ''}`}
        >
          <span className="shrink-0">
            <span className="font-head font-semibold">{weekdayWord(day)}</span>{' '}
            <span className="text-sm">
              {Number(day.slice(8))}
              <span className="hidden @min-[8rem]:inline"> {shortDay(day).split(' ')[1]}</span>
            </span>
          </span>
          <span className="ml-1.5 flex min-w-0 flex-1 text-ink">
            <KeyDatesOn day={day} most={1} isShort />
          </span>
          {(byDay.get(day)?.length ?? 0) > 0 && (
            <button
              type="button"
              aria-label={`Choose all ${byDay.get(day)?.length} of ${weekdayWord(day)} ${shortDay(day)}`}
              title="Choose the whole day"
              onClick={() => onChoose((byDay.get(day) ?? []).map((c) => c.key))}
              className="min-h-[24px] min-w-[24px] shrink-0 rounded-sm @max-[5.5rem]:hidden text-[0.7rem] text-faded hover:bg-wash"
            >
              {byDay.get(day)?.length}
            </button>
          )}
          {day === today && <span className="sr-only"> (today)</span>}
        </div>
      ))}
      {rows.map((row) => (
        <Fragment key={row.key}>
          <h3 className="border-rule border-t py-2 pr-2 font-text text-sm leading-snug">{row.label}</h3>
          {days.map((day) => (
            <Cell
              key={day}
              day={day}
              isToday={day === today}
              lane={lanes}
              of={row.key}
              write={begin(day, row.key === 'none' ? {} : { [lanes]: row.key })}
              row={row.name}
              entries={(lanes === 'channel' && byChannel.get(`${row.key}|${day}`)) || noEntries}
              cards={(lanes === 'category' && byCategory.get(`${row.key}|${day}`)) || noCards}
              byKey={byKey}
            />
          ))}
        </Fragment>
      ))}
    </div>
  );
}

interface CellProps {
  day: string;
  isToday: boolean;
  lane: 'channel' | 'category';
  /** The channel or category, or `none`. */
  of: string;
  /** Where a post for it is begun. */
  write: string | null;
  row: string;
  /** In the lane of a channel. */
  entries: readonly Entry[];
  /** In the lane of a category. */
  cards: readonly PostTime[];
  byKey: ReadonlyMap<string, PostTime>;
}

/** Drawn anew only where what stands in it has changed. */
const Cell = memo(function Cell({ day, isToday, lane, of, write, row, entries, cards, byKey }: CellProps) {
  const { to } = useWorkspacePath();
  return (
    <div
      ref={dropCell(day, of === 'none' ? {} : lane === 'channel' ? { channelId: of } : { categoryId: of })}
      data-cell={day}
      data-lane={of === 'none' ? undefined : of}
      className={`group @container/lane flex min-h-14 min-w-0 flex-col gap-1 border-rule border-t border-l p-1 data-over:bg-dawn-wash ${isToday ? 'bg-dawn-wash/45' : ''}`}
    >
      {entries.map((entry) => (
        <LaneCard key={entry.key} entry={entry} card={byKey.get(cardKey(entry))} />
      ))}
      <DayCards cards={cards} />
      {write && (
        <Link
          to={to(write)}
          aria-label={`Write a post for ${row} on ${weekdayWord(day)} ${shortDay(day)}`}
          title="Write a post for this day"
          className="mt-auto inline-flex min-h-6 items-center justify-center rounded-sm text-faded opacity-0 pointer-coarse:opacity-100 hover:bg-wash focus-visible:opacity-100 group-hover:opacity-100 print:hidden"
        >
          +
        </Link>
      )}
    </div>
  );
});

/** What is under the pointer, or has the focus, lights up the same post on its other channels. Nothing is rendered again. */
function lightUp(event: { target: EventTarget; currentTarget: Element }) {
  const key = (event.target as Element).closest('[data-card]')?.getAttribute('data-card');
  for (const card of event.currentTarget.querySelectorAll('[data-card]'))
    card.toggleAttribute('data-lit', key !== undefined && card.getAttribute('data-card') === key);
}

function useRows(lanes: 'channel' | 'category', entries: readonly Entry[]) {
  const channels = useChannels();
  const categories = useCategories();
  if (lanes === 'channel')
    return (channels.data ?? []).map((c) => ({
      key: c.id,
      name: c.name,
      label: <ChannelName id={c.id} className="max-w-full" whole />,
    }));
  const rows = (categories.data ?? []).map((c) => ({ key: c.id, name: c.name, label: <CategoryName id={c.id} /> }));
  return entries.some((e) => e.categoryId === null)
    ? [...rows, { key: 'none', name: 'no category', label: <CategoryName id={null} /> }]
    : rows;
}
