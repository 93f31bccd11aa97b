import { memo } from 'react';
import { Link } from 'react-router';
import { colourOf, Monogram } from '../categories/categories';
import { KeyDatesOn } from '../keydates/KeyDateMark';
import type { PostTime } from '../lineup/cards';
import { dropDay } from '../lineup/moving';
import { addDays, clock, dayWords, monthWord, weekdayNames } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';
import { DayCards } from './DayCards';
import { useGroups, useLook } from './look';
import { DayNote, WeekNote } from './Notes';
import { isTrouble, PostCard } from './PostCard';
import { daysOf } from './spans';

/** So many cards a day of a month shows one by one; of a day with more, each category takes a line. */
const mostCards = 5;

interface Props {
  from: string;
  to: string;
  /** The month that is meant, as 2026-03; days of others stand back. Null: none is. */
  month: string | null;
  cards: readonly PostTime[];
}

const dayOf = (card: PostTime) => card.date;
const none: readonly PostTime[] = [];

/** Weeks, one under the other, each day with its posts. */
export function WeeksGrid({ from, to, month, cards }: Props) {
  const byDay = useGroups(cards, dayOf);
  const mondays = daysOf({ from, to }).filter((_, i) => i % 7 === 0);
  return (
    <div className="@container/weeks">
      <div className="grid grid-cols-[2.2rem_repeat(7,minmax(0,1fr))] border-ink border-t-[1.5px]">
        <span />
        {weekdayNames.map((name) => (
          <span
            key={name}
            className="sticky top-(--head) z-10 border-rule border-l bg-paper px-2 font-head font-semibold text-sm"
          >
            {name}
          </span>
        ))}
        {mondays.map((monday) => (
          <Week key={monday} monday={monday} month={month} byDay={byDay} />
        ))}
      </div>
    </div>
  );
}

interface WeekProps {
  monday: string;
  month: string | null;
  byDay: ReadonlyMap<string, readonly PostTime[]>;
}

function Week({ monday, month, byDay }: WeekProps) {
  const { onChoose } = useLook();
  const days = Array.from({ length: 7 }, (_, i) => addDays(monday, i));
  const all = days.flatMap((day) => byDay.get(day) ?? []);
  return (
    <>
      <div className="flex flex-col items-center gap-1 border-rule border-t pt-1">
        <button
          type="button"
          aria-label={`Choose the week from ${dayWords(monday)}`}
          title="Choose the whole week"
          disabled={all.length === 0}
          onClick={() => onChoose(all.map((c) => c.key))}
          className="min-h-[24px] min-w-[24px] rounded-sm text-faded text-sm hover:bg-wash disabled:opacity-30"
        >
          ▸
        </button>
        <WeekNote monday={monday} />
      </div>
      {days.map((day) => (
        <DayCell
          key={day}
          day={day}
          isPale={month !== null && !day.startsWith(month)}
          isMonth={month !== null}
          cards={byDay.get(day) ?? none}
        />
      ))}
    </>
  );
}

interface DayProps {
  day: string;
  isPale: boolean;
  isMonth: boolean;
  cards: readonly PostTime[];
}

/** Drawn anew only where its own cards have changed: most days keep theirs while a title is typed. */
const DayCell = memo(function DayCell({ day, isPale, isMonth, cards }: DayProps) {
  const { today, begin, onChoose } = useLook();
  const { to } = useWorkspacePath();
  const write = begin(day);
  const isFull = isMonth && cards.length > mostCards;
  return (
    <section
      ref={dropDay(day)}
      aria-label={`${dayWords(day)}: ${cards.length} posts`}
      data-cell={day}
      className={`group flex min-w-0 flex-col gap-px border-rule border-t border-l p-1 data-over:bg-dawn-wash ${isMonth ? 'min-h-24' : 'min-h-40'} ${
        day === today ? 'bg-dawn-wash/45' : isPale ? 'bg-wash/40' : ''
      }`}
    >
      <div className="flex min-h-6 items-center gap-1 text-sm">
        <Link
          to={to(`calendar?view=day&on=${day}`)}
          className={`inline-flex min-h-[24px] min-w-[24px] shrink-0 items-center whitespace-nowrap rounded-sm px-1 font-head hover:bg-wash ${
            day === today ? 'font-semibold text-dawn' : isPale || day < today ? 'text-faded' : 'font-semibold'
          }`}
        >
          {Number(day.slice(8))}
          {(day.endsWith('-01') || !isMonth) && ` ${monthWord(day)}`}
          {day === today && <span className="sr-only"> (today)</span>}
        </Link>
        {cards.length > 0 && (
          <button
            type="button"
            aria-label={`Choose all ${cards.length} of ${dayWords(day)}`}
            title="Choose the whole day"
            onClick={() => onChoose(cards.map((c) => c.key))}
            className="min-h-[24px] min-w-[24px] rounded-sm text-[0.7rem] text-faded hover:bg-wash"
          >
            {cards.length}
          </button>
        )}
        <DayNote day={day} />
        {write && (
          <Link
            to={to(write)}
            aria-label={`Write a post for ${dayWords(day)}`}
            title="Write a post for this day"
            className="ml-auto inline-flex min-h-[24px] min-w-[24px] items-center justify-center rounded-sm text-faded opacity-0 pointer-coarse:opacity-100 hover:bg-wash focus-visible:opacity-100 group-hover:opacity-100 print:hidden"
          >
            +
          </Link>
        )}
      </div>
      <KeyDatesOn day={day} />
      {isFull ? (
        <FullDay day={day} cards={cards} />
      ) : isMonth ? (
        cards.map((card) => <PostCard key={card.key} card={card} as="line" />)
      ) : (
        <DayCards cards={cards} />
      )}
    </section>
  );
});

/** A day with many posts: a line for each category, how often it goes out and from when to when. What failed is counted by itself. */
function FullDay({ day, cards }: { day: string; cards: readonly PostTime[] }) {
  const { categories } = useLook();
  const { to } = useWorkspacePath();
  const lines = [...Map.groupBy(cards, (c) => c.entries[0].categoryId ?? '')].toSorted(
    (a, b) => b[1].length - a[1].length,
  );
  return (
    <Link
      to={to(`calendar?view=day&on=${day}`)}
      aria-label={`Open ${dayWords(day)} with its ${cards.length} posts`}
      className="flex flex-col gap-px rounded-sm hover:bg-wash"
    >
      {lines.map(([id, of]) => {
        const category = categories.get(id);
        const failures = of.filter((c) => c.entries.some(isTrouble)).length;
        const times = of.map((c) => clock(c.time));
        const empty = of.filter((c) => c.entries.every((e) => e.kind === 'empty')).length;
        return (
          <span
            key={id}
            data-summed={of.length}
            className="flex items-center gap-1.5 border-l-[5px] pl-1 text-[0.8rem] leading-[1.25rem]"
            style={{ borderColor: colourOf(category) }}
          >
            {category ? <Monogram category={category} /> : <span className="text-faded italic">free</span>}
            <b className="font-head">{of.length - empty}</b>
            <Hours first={times[0] ?? ''} last={times.at(-1) ?? ''} isCrowded={failures + empty > 0} />
            {failures > 0 ? (
              <span className="ml-auto shrink-0 font-semibold text-bad">{failures} failed</span>
            ) : (
              empty > 0 && <span className="ml-auto shrink-0 text-faded italic">{empty} empty</span>
            )}
          </span>
        );
      })}
    </Link>
  );
}

/** From when to when; where days are narrow by hours alone, or, beside what matters more, not at all. */
function Hours({ first, last, isCrowded }: { first: string; last: string; isCrowded: boolean }) {
  if (first === last)
    return <span className={`truncate text-faded ${isCrowded ? '@max-[68rem]/weeks:hidden' : ''}`}>{first}</span>;
  return (
    <>
      <span className="truncate text-faded @max-[74rem]/weeks:hidden">
        {first} to {last}
      </span>
      <span className={`@min-[74rem]/weeks:hidden truncate text-faded ${isCrowded ? '@max-[68rem]/weeks:hidden' : ''}`}>
        {first.slice(0, 2)}–{last.slice(0, 2)} h
      </span>
    </>
  );
}
