import { useMemo } from 'react';
import { Link } from 'react-router';
import { colourOf, useCategories } from '../categories/categories';
import { useNeeds } from '../deliveries/needs';
import { entryWord, failed } from '../deliveries/states';
import { KindMark } from '../keydates/KeyDateMark';
import { comingKey, type KeyDate, type KeyDateKind, useKeyDateKinds, useKeyDates } from '../keydates/keyDates';
import { type Note, useNotes } from '../keydates/notes';
import { useShortages } from '../rota/rota';
import { addDays, clock, dayWords, mondayOf, monthWord, shortDay, weekdayOf, weekdayWord } from '../time/dates';
import { Tip } from '../ui/Tip';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { type Entry, useLineUp } from './lineup';
import { dropDay } from './moving';

const days = 28;
/** Ticks that one day shows; more are counted in words. */
const mostTicks = 11;

/** The pulse of the workspace over every view: the next four weeks, a tick for each delivery, hollow where nothing is there to send. */
export function FourWeekStrip() {
  const today = useWorkspace().data?.today ?? null;
  const lineUp = useLineUp(today, today && addDays(today, days - 1));
  const byDay = useMemo(() => Map.groupBy(lineUp.data?.entries ?? [], (e) => e.date), [lineUp.data]);
  const last = today && addDays(today, days - 1);
  const keyDates = useKeyDates(today, last).data ?? [];
  const notes = useNotes(today, last).data ?? [];
  const kinds = new Map((useKeyDateKinds().data ?? []).map((k) => [k.id, k]));
  if (!today) return <div className="h-(--strip)" />;
  return (
    <nav aria-label="The next four weeks" className="flex h-(--strip) items-end gap-px">
      <Behind />
      {Array.from({ length: days }, (_, i) => addDays(today, i)).map((day) => (
        <Day
          key={day}
          day={day}
          today={today}
          entries={byDay.get(day) ?? []}
          keyDates={keyDates.filter((k) => k.date <= day && day <= k.last)}
          notes={notes.filter((n) => n.date === day)}
          kinds={kinds}
        />
      ))}
    </nav>
  );
}

/** What failed and still waits for a person, whenever it was. */
function Behind() {
  const { to } = useWorkspacePath();
  const needs = useNeeds().data ?? [];
  const waiting = needs.filter((n) => n.state !== 'postItYourself').length;
  const yours = needs.length - waiting;
  const { dry, repeating } = useShortages();
  const short = dry.length + repeating.length;
  return (
    <Link
      to={to('today')}
      className={`flex h-full w-16 shrink-0 flex-col justify-end pr-2 text-right text-xs leading-tight ${waiting > 0 ? 'text-bad' : 'text-faded'}`}
    >
      {waiting > 0 ? (
        <>
          <b className="font-head text-xl leading-none">{waiting}</b>
          {waiting === 1 ? 'failure' : 'failures'}
        </>
      ) : yours > 0 ? (
        <>
          <b className="font-head text-dawn text-xl leading-none">{yours}</b>
          <span className="text-dawn">yours to post</span>
        </>
      ) : short > 0 ? (
        <>
          <b className="font-head text-dawn text-xl leading-none">{short}</b>
          <span className="text-dawn">running short</span>
        </>
      ) : (
        'all well'
      )}
    </Link>
  );
}

interface DayProps {
  day: string;
  today: string;
  entries: readonly Entry[];
  keyDates: readonly KeyDate[];
  /** Those that begin on the day. */
  notes: readonly Note[];
  kinds: ReadonlyMap<string, KeyDateKind>;
}

function Day({ day, today, entries, keyDates, notes, kinds }: DayProps) {
  const { to } = useWorkspacePath();
  const trouble = entries.filter((e) => failed(e.state) && !e.dealtWith).length;
  const empty = entries.filter((e) => e.kind === 'empty' && e.categoryId).length;
  const full = entries.filter((e) => e.kind !== 'empty').length;
  const startsWeek = weekdayOf(day) === 1;
  const words = [
    `${full} to send`,
    empty > 0 && `${empty} empty`,
    trouble > 0 && `${trouble} failed`,
    ...keyDates.map((k) => k.title),
    notes.length > 0 && 'a note',
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <Tip content={<DayList day={day} entries={entries} keyDates={keyDates} notes={notes} kinds={kinds} />}>
      <Link
        ref={dropDay(day)}
        to={to(`calendar?week=${mondayOf(day)}`)}
        data-day-tick={day}
        aria-label={`${dayWords(day)}: ${words}`}
        className={`group flex h-full min-w-0 flex-1 flex-col justify-end ${startsWeek ? 'border-rule-strong border-l pl-px' : ''} hover:bg-wash data-over:bg-dawn-wash`}
      >
        {(keyDates.length > 0 || notes.length > 0) && (
          <span aria-hidden="true" className="flex h-3 gap-px overflow-hidden px-0.5 text-[0.6rem] leading-none">
            {keyDates.slice(0, 2).map((k) => (
              <KindMark key={comingKey(k)} kind={kinds.get(k.kindId)} />
            ))}
            {notes.length > 0 && <span className="ml-auto text-dawn">¶</span>}
          </span>
        )}
        <span className="flex flex-1 flex-col-reverse gap-[1.5px] overflow-hidden px-0.5 pb-0.5">
          {entries.slice(0, mostTicks).map((entry) => (
            <DeliveryTick key={entry.key} entry={entry} />
          ))}
        </span>
        <span
          className={`flex items-baseline justify-between border-t px-0.5 text-[0.66rem] leading-[0.95rem] ${day === today ? 'border-dawn border-t-2 font-semibold text-dawn' : 'border-ink text-faded'}`}
        >
          <span className="whitespace-nowrap">
            {Number(day.slice(8))}
            {(startsWeek || day === today) && <span className="max-[1250px]:hidden"> {monthWord(day)}</span>}
          </span>
          {trouble > 0 && (
            <span aria-hidden="true" className="text-bad">
              ▼
            </span>
          )}
        </span>
      </Link>
    </Tip>
  );
}

function DeliveryTick({ entry }: { entry: Entry }) {
  const categories = useCategories();
  const colour = colourOf(categories.data?.find((c) => c.id === entry.categoryId));
  const trouble = failed(entry.state) && !entry.dealtWith;
  const hollow = entry.kind === 'empty';
  return (
    <span
      className="block h-[3.5px] shrink-0"
      style={
        hollow
          ? { border: `1px solid ${colour}` }
          : {
              background: trouble ? 'var(--bad)' : colour,
              clipPath: trouble ? 'polygon(0 0,40% 0,50% 100%,60% 0,100% 0,100% 100%,0 100%)' : undefined,
            }
      }
    />
  );
}

function DayList({ day, entries, keyDates, notes, kinds }: Omit<DayProps, 'today'>) {
  return (
    <div className="w-64">
      <b className="font-head">
        {weekdayWord(day)} {shortDay(day)}
      </b>
      {keyDates.map((k) => (
        <p key={comingKey(k)} className="flex gap-1.5">
          <KindMark kind={kinds.get(k.kindId)} /> {k.title}
        </p>
      ))}
      {notes.map((n) => (
        <p key={n.id} className="line-clamp-2 text-dawn">
          {n.text}
        </p>
      ))}
      {entries.length === 0 && <p className="text-faded">Nothing planned.</p>}
      <ul>
        {entries.slice(0, 10).map((entry) => (
          <li key={entry.key} className="flex gap-2">
            <span className="font-head">{clock(entry.time)}</span>
            <span className="flex-1 truncate">{entry.title ?? 'Nothing to send'}</span>
            <span className="text-faded">{entry.kind === 'empty' ? '' : entryWord(entry)}</span>
          </li>
        ))}
      </ul>
      {entries.length > 10 && <p className="text-faded">and {entries.length - 10} more</p>}
    </div>
  );
}
