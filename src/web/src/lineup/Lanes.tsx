import { Fragment, type ReactNode, useMemo } from 'react';
import { CategoryName, useCategories } from '../categories/categories';
import { ChannelName, useChannels } from '../channels/channels';
import { addDays, shortDay, weekdayWord } from '../time/dates';
import { Card } from './Card';
import type { Entry } from './lineup';
import { dropCell, useMovingByKeys } from './moving';

interface Props {
  monday: string;
  today: string;
  entries: readonly Entry[];
  lanes: 'channel' | 'category';
  /** Key of the only lane to show; empty shows all. */
  only: string;
  chosen: string | null;
  onChoose: (key: string) => void;
}

/** A week: days across, a lane for each channel or category, entries by time. */
export function Lanes({ monday, today, entries, lanes, only, chosen, onChoose }: Props) {
  const days = Array.from({ length: 7 }, (_, i) => addDays(monday, i));
  const rows = useRows(lanes, entries).filter((row) => !only || row.key === only);
  const cells = Map.groupBy(entries, (e) => `${laneOf(e, lanes)}|${e.date}`);
  const channels = useById(useChannels().data);
  const categories = useById(useCategories().data);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: listens for the cards in it, which are buttons
    <div
      onKeyDown={useMovingByKeys(entries)}
      className="grid grid-cols-[9.5rem_repeat(7,minmax(0,1fr))] border-ink border-t-[1.5px]"
    >
      <div className="sticky top-(--head) z-10 bg-paper" />
      {days.map((day) => (
        <div
          key={day}
          className={`sticky top-(--head) z-10 border-rule border-l bg-paper px-2 py-1.5 ${day === today ? 'text-dawn' : ''} ${day < today ? 'text-faded' : ''}`}
        >
          <span className="font-head font-semibold">{weekdayWord(day)}</span>{' '}
          <span className="text-sm">{shortDay(day)}</span>
          {day === today && <span className="sr-only"> (today)</span>}
        </div>
      ))}
      {rows.map((row) => (
        <Fragment key={row.key}>
          <h3 className="border-rule border-t py-2 pr-2 font-text text-sm leading-snug">{row.label}</h3>
          {days.map((day) => (
            <Cell key={day} day={day} isToday={day === today} channelId={lanes === 'channel' ? row.key : undefined}>
              {cells.get(`${row.key}|${day}`)?.map((entry) => (
                <Card
                  key={entry.key}
                  entry={entry}
                  category={categories.get(entry.categoryId ?? '')}
                  channel={channels.get(entry.channelId)}
                  lanes={lanes}
                  chosen={entry.key === chosen}
                  onChoose={onChoose}
                />
              ))}
            </Cell>
          ))}
        </Fragment>
      ))}
    </div>
  );
}

interface CellProps {
  day: string;
  isToday: boolean;
  channelId: string | undefined;
  children: ReactNode;
}

function Cell({ day, isToday, channelId, children }: CellProps) {
  return (
    <div
      ref={dropCell(day, channelId)}
      data-cell={day}
      data-lane={channelId}
      className={`flex min-h-14 flex-col gap-1 border-rule border-t border-l p-1 data-over:bg-dawn-wash ${isToday ? 'bg-dawn-wash/45' : ''}`}
    >
      {children}
    </div>
  );
}

const useById = <T extends { id: string }>(list: readonly T[] | undefined) =>
  useMemo(() => new Map((list ?? []).map((item) => [item.id, item])), [list]);

const laneOf = (entry: Entry, lanes: 'channel' | 'category') =>
  lanes === 'channel' ? entry.channelId : (entry.categoryId ?? 'none');

function useRows(lanes: 'channel' | 'category', entries: readonly Entry[]) {
  const channels = useChannels();
  const categories = useCategories();
  if (lanes === 'channel')
    return (channels.data ?? []).map((c) => ({
      key: c.id,
      label: <ChannelName id={c.id} className="max-w-full" whole />,
    }));
  const rows = (categories.data ?? []).map((c) => ({ key: c.id, label: <CategoryName id={c.id} /> }));
  return entries.some((e) => e.categoryId === null)
    ? [...rows, { key: 'none', label: <CategoryName id={null} /> }]
    : rows;
}
