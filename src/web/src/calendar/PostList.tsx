import { CategoryName } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { entryWord } from '../deliveries/states';
import type { PostTime } from '../lineup/cards';
import { clock, dayWords } from '../time/dates';
import { Checkbox } from '../ui/Checkbox';
import { BesideDay, useDays } from './DayNames';
import { useLook } from './look';
import { isTrouble, wordsOfCard } from './PostCard';

/** All of a time, one line for each post at each time. */
export function PostList({ from, cards }: { from: string; cards: readonly PostTime[] }) {
  const { onOpen, open, chosen, onChoose, today } = useLook();
  const days = useDays(cards, (c) => c.date, from);
  return (
    <table className="w-full border-ink border-b-[1.5px]">
      <caption className="sr-only">Posts by day and time</caption>
      <thead>
        <tr className="border-ink border-b-[1.5px] text-left text-faded text-sm max-[800px]:sr-only">
          {['', 'Time', 'Category', 'Post', 'Channels', 'State'].map((head) => (
            <th key={head} scope="col" className="font-normal">
              {head || <span className="sr-only">Choose</span>}
            </th>
          ))}
        </tr>
      </thead>
      {days.map(([day, of]) => (
        <tbody key={day}>
          <tr>
            <th
              scope="rowgroup"
              colSpan={6}
              className="border-ink border-t pt-0.5 pb-0.5 text-left font-head text-[1.1rem]"
            >
              <span className={day === today ? 'text-dawn' : ''}>{dayWords(day)}</span> <BesideDay day={day} />
              {of.length > 0 && (
                <button
                  type="button"
                  onClick={() => onChoose(of.map((c) => c.key))}
                  className="link ml-2 min-h-[24px] font-normal font-text text-sm"
                >
                  choose all {of.length} of this day
                </button>
              )}
            </th>
          </tr>
          {of.map((card) => {
            const first = card.entries[0];
            return (
              <tr
                key={card.key}
                data-card={card.key}
                className={`border-rule border-t align-top hover:bg-wash max-[800px]:flex max-[800px]:flex-wrap ${chosen.has(card.key) ? 'bg-dawn-wash' : ''}`}
              >
                <td className="w-7 py-1">
                  <Checkbox checked={chosen.has(card.key)} onChange={() => onChoose([card.key])}>
                    <span className="sr-only">
                      Choose {clock(card.time)} {first.title}
                    </span>
                  </Checkbox>
                </td>
                <td className="w-14 py-1 font-head font-semibold">{clock(card.time)}</td>
                <td className="truncate py-1 pr-3 text-sm min-[800px]:w-44">
                  <CategoryName id={first.categoryId} />
                </td>
                <td className="py-1 pr-3">
                  <button
                    type="button"
                    data-entry={first.key}
                    aria-pressed={card.entries.some((e) => e.key === open)}
                    onClick={() => onOpen(first.key)}
                    className={`min-h-[24px] text-left ${first.postId ? 'font-medium' : 'text-faded italic'} hover:underline`}
                  >
                    {first.title ?? entryWord(first)}
                  </button>
                </td>
                <td className="py-1 pr-3 text-sm min-[800px]:w-72">
                  <span className="flex flex-wrap gap-x-3">
                    {card.entries.map((e) => (
                      <ChannelName key={e.key} id={e.channelId} />
                    ))}
                  </span>
                </td>
                <td
                  className={`w-44 py-1 text-sm ${card.entries.some(isTrouble) ? 'font-semibold text-bad' : 'text-faded'}`}
                >
                  {wordsOfCard(card.entries)}
                </td>
              </tr>
            );
          })}
        </tbody>
      ))}
    </table>
  );
}
