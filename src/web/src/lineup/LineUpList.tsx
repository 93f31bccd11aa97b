import { CategoryName, edgeOf, useCategory } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { entryEdge, entryWord, failed } from '../deliveries/states';
import { clock, dayWords } from '../time/dates';
import type { Entry } from './lineup';

interface Props {
  entries: readonly Entry[];
  chosen: string | null;
  onChoose: (key: string) => void;
}

/** The coming days as a list, each entry with the reason for it. */
export function LineUpList({ entries, chosen, onChoose }: Props) {
  const days = [...Map.groupBy(entries, (e) => e.date)];
  return (
    <div className="max-w-5xl">
      {days.map(([day, ofDay]) => (
        <section key={day} className="mb-6">
          <h2 className="border-ink border-b-[1.5px] pb-1">{dayWords(day)}</h2>
          <ul className="ruled">
            {ofDay.map((entry) => (
              <li key={entry.key}>
                <Line entry={entry} chosen={entry.key === chosen} onChoose={() => onChoose(entry.key)} />
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function Line({ entry, chosen, onChoose }: { entry: Entry; chosen: boolean; onChoose: () => void }) {
  const category = useCategory(entry.categoryId);
  const trouble = failed(entry.state) && !entry.dealtWith;
  return (
    <button
      type="button"
      onClick={onChoose}
      aria-pressed={chosen}
      data-entry={entry.key}
      data-state={entry.state ?? entry.kind}
      style={edgeOf(category)}
      className={`my-1 grid w-full grid-cols-[3.2rem_minmax(0,1fr)_minmax(0,1fr)] items-baseline gap-x-3 gap-y-0.5 rounded-sm px-3 py-1.5 text-left hover:bg-wash min-[640px]:grid-cols-[3.2rem_9rem_8.5rem_1fr] ${entryEdge(entry)} ${chosen ? 'bg-wash' : ''}`}
    >
      <span className="font-head font-semibold">{clock(entry.time)}</span>
      <ChannelName id={entry.channelId} className="text-sm" whole />
      <span className="truncate text-sm">
        <CategoryName id={entry.categoryId} />
      </span>
      <span className="max-[640px]:col-span-3">
        <span className="font-medium">{entry.title ?? 'Nothing to send'}</span>{' '}
        <span className={`text-sm ${trouble ? 'font-semibold text-bad' : 'text-faded'}`}>
          {entry.kind === 'empty' ? '' : entryWord(entry)}
        </span>
        <span className="mt-0.5 block text-faded text-sm">{entry.trouble ?? entry.brief}</span>
      </span>
    </button>
  );
}
