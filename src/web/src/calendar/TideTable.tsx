import { CategoryName } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { StateMark } from '../deliveries/StateMark';
import { entryForm, entryWord, failed } from '../deliveries/states';
import { cardsOf } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';
import { NetworkMark } from '../networks/networks';
import { clock, dayWords } from '../time/dates';
import { BesideDay, useDays } from './DayNames';

interface Props {
  /** The first day. */
  from: string;
  entries: readonly Entry[];
  chosen: string | null;
  onChoose: (key: string) => void;
}

/** One line for each post at each time; what it does on each channel stands in that channel's column. */
export function TideTable({ from, entries, chosen, onChoose }: Props) {
  const present = new Set(entries.map((e) => e.channelId));
  const channels = (useChannels().data ?? []).filter((c) => present.has(c.id));
  const days = useDays(entries, (e) => e.date, from);
  return (
    <table className="w-full border-ink border-b-[1.5px]">
      <caption className="sr-only">What goes out, by day and time, with its channels as columns</caption>
      <thead>
        <tr className="border-ink border-b-[1.5px] align-bottom">
          <th scope="col" className="w-14 pb-1 text-left font-normal text-faded text-sm">
            Time
          </th>
          <th scope="col" className="w-40 pb-1 text-left font-normal text-faded text-sm">
            Category
          </th>
          <th scope="col" className="pb-1 text-left font-normal text-faded text-sm">
            <div className="mb-8">
              <Legend />
            </div>
            Post, and why this one
          </th>
          {channels.map((channel) => (
            <th key={channel.id} scope="col" className="w-9 border-rule border-l pb-1 font-normal" title={channel.name}>
              <span className="inline-flex max-h-44 flex-row items-center gap-1 overflow-hidden text-ellipsis whitespace-nowrap text-[0.74rem] [writing-mode:sideways-lr]">
                <span className="[writing-mode:horizontal-tb]">
                  <NetworkMark network={channel.network} size={14} />
                </span>
                {channel.name}
              </span>
            </th>
          ))}
        </tr>
      </thead>
      {days.map(([day, ofDay]) => (
        <tbody key={day}>
          <tr>
            <th
              scope="rowgroup"
              colSpan={3 + channels.length}
              className="border-ink border-t pt-2 pb-0.5 text-left font-head text-[1.1rem]"
            >
              {dayWords(day)} <BesideDay day={day} />
            </th>
          </tr>
          {cardsOf(ofDay).map(({ key, entries: line }) => (
            <Line key={key} line={line} channels={channels} chosen={chosen} onChoose={onChoose} />
          ))}
        </tbody>
      ))}
    </table>
  );
}

interface LineProps {
  line: readonly Entry[];
  channels: readonly { id: string; name: string }[];
  chosen: string | null;
  onChoose: (key: string) => void;
}

function Line({ line, channels, chosen, onChoose }: LineProps) {
  const first = line[0];
  if (!first) return null;
  const why = line.find((e) => e.trouble)?.trouble ?? first.why;
  return (
    <tr className="border-rule border-t align-top hover:bg-wash">
      <td className="py-1 font-head font-semibold">{clock(first.time)}</td>
      <td className="truncate py-1 pr-3 text-sm">
        <CategoryName id={first.categoryId} />
      </td>
      <td className="max-w-0 py-1 pr-3">
        <span className={`block truncate ${first.postId ? 'font-medium' : 'text-faded italic'}`}>
          {first.title ?? entryWord(first)}
          {first.isWaiting && (
            <span className="ml-2 font-normal text-dawn text-sm not-italic">waiting for approval</span>
          )}
        </span>
        <span className="line-clamp-1 text-faded text-sm" title={why}>
          {why}
        </span>
      </td>
      {channels.map((channel) => (
        <td key={channel.id} className="border-rule border-l p-0 text-center align-middle">
          {line
            .filter((e) => e.channelId === channel.id)
            .map((entry) => (
              <button
                key={entry.key}
                type="button"
                data-entry={entry.key}
                data-state={entry.state ?? entry.kind}
                aria-pressed={entry.key === chosen}
                aria-label={`${clock(entry.time)} ${entry.title ?? 'empty'} on ${channel.name}: ${entryWord(entry)}`}
                title={`${channel.name}: ${entryWord(entry)}`}
                onClick={() => onChoose(entry.key)}
                className={`inline-flex h-8 w-full items-center justify-center hover:bg-dawn-wash aria-pressed:bg-dawn-wash ${failed(entry.state) && entry.dealtWith ? 'opacity-50' : ''}`}
              >
                <StateMark form={entryForm(entry)} size={11} />
              </button>
            ))}
        </td>
      ))}
    </tr>
  );
}

const legend = [
  ['open', 'may change'],
  ['scheduled', 'scheduled'],
  ['sending', 'sending'],
  ['sent', 'sent'],
  ['failed', 'failed'],
  ['empty', 'empty'],
] as const;

/** What the marks say. */
const Legend = () => (
  <p className="flex flex-wrap gap-x-4 gap-y-1 text-faded text-sm">
    {legend.map(([form, words]) => (
      <span key={form} className="inline-flex items-center gap-1.5">
        <StateMark form={form} size={11} /> {words}
      </span>
    ))}
  </p>
);
