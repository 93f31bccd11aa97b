import { useState } from 'react';
import { Link } from 'react-router';
import { type Category, useCategories } from '../categories/categories';
import { useNetworks } from '../networks/networks';
import { longDay, shortDay } from '../time/dates';
import { Empty, Fetched, Renewing } from '../ui/States';
import { Tabs } from '../ui/Tabs';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspacePath } from '../workspaces/workspace';
import { Activity } from './Activity';
import { Behind } from './Behind';
import { CategoryRows } from './CategoryRows';
import { CategoryTable } from './CategoryTable';
import { FigureSheets } from './FigureSheets';
import { Filters } from './Filters';
import { Followers } from './Followers';
import { Groups } from './Groups';
import { HoursWeek } from './HoursWeek';
import { Mix } from './Mix';
import { Outside, useUncounted } from './Outside';
import { Ribbons } from './Ribbons';
import {
  ages,
  type BehindWhat,
  type Question,
  type ResultsBy,
  type ResultsView,
  tableAddress,
  useQuestion,
  useResults,
} from './results';
import { listWords, measured, times, whole } from './words';

const views: readonly { value: 'category' | 'activity' | 'outside' | ResultsBy; label: string; title: string }[] = [
  { value: 'category', label: 'By category', title: 'What each category earned' },
  { value: 'channel', label: 'By channel', title: 'What each channel makes of a post' },
  { value: 'daypart', label: 'By time of day', title: 'When posts do well' },
  { value: 'post', label: 'Posts', title: 'How each post did' },
  { value: 'wording', label: 'Wordings', title: 'Which wording did better' },
  { value: 'hashtag', label: 'Hashtags', title: 'What comes with which hashtag' },
  { value: 'activity', label: 'Activity', title: 'What went out' },
  { value: 'outside', label: 'Made outside', title: 'What was posted on the channels themselves' },
];

/** What was earned in a period, by what, and how surely. */
export function Results() {
  const { question, search, set, today } = useQuestion();
  const open = (what: BehindWhat) => set({ behind: `${what.by} ${what.key}`, delivery: null });
  const view = views.find((v) => v.value === search.get('by')) ?? (views[0] as (typeof views)[number]);
  return (
    <>
      <h1 className="mb-3">{view.title}</h1>
      {question && today && (
        <>
          {view.value !== 'outside' && (
            <Filters question={question} today={today} set={set} onlyPeriod={view.value === 'activity'} />
          )}
          <Tabs
            label="Results"
            value={view.value}
            tabs={views.map((v) => ({
              ...v,
              content:
                v.value === 'category' ? (
                  <ByCategory question={question} onOpen={open} />
                ) : v.value === 'activity' ? (
                  <Activity question={question} />
                ) : v.value === 'outside' ? (
                  <Outside />
                ) : (
                  <>
                    <Groups question={question} by={v.value} onOpen={open} />
                    {v.value === 'daypart' && <HoursWeek />}
                    {v.value === 'channel' && <Followers question={question} />}
                  </>
                ),
            }))}
            onChange={(next) => set({ by: next === 'category' ? null : next, behind: null, delivery: null })}
          />
          {view.value !== 'outside' && <TakeOut question={question} table={view.value} />}
          {view.value !== 'outside' && view.value !== 'activity' && <FigureSheets />}
          <Behind
            question={question}
            what={behindOf(search.get('behind'))}
            delivery={search.get('delivery')}
            onDelivery={(delivery) => set({ delivery })}
            onClose={() => set({ behind: null, delivery: null })}
          />
        </>
      )}
    </>
  );
}

const behindOf = (written: string | null): BehindWhat | null => {
  const [by, ...key] = (written ?? '').split(' ');
  return by && key.length > 0 ? { by: by as BehindWhat['by'], key: key.join(' ') } : null;
};

/** The table as it is shown, and all deliveries behind it, as sheets. */
function TakeOut({ question, table }: { question: Question; table: string }) {
  const { id } = useWorkspacePath();
  const link = (what: string, format: 'csv' | 'xlsx', words: string) => (
    <a className="link" href={tableAddress(id, question, what, format)} download>
      {words}
    </a>
  );
  return (
    <p className="mt-4 flex gap-4 text-sm">
      <span className="text-faded">Take it out:</span>
      {link(table, 'xlsx', 'this table as .xlsx')}
      {link(table, 'csv', 'as .csv')}
      {link('delivery', 'xlsx', 'all deliveries as .xlsx')}
      {link('delivery', 'csv', 'as .csv (deliveries)')}
    </p>
  );
}

function ByCategory({ question, onOpen }: { question: Question; onOpen: (what: BehindWhat) => void }) {
  const results = useResults(question);
  return (
    <Fetched query={results} what="the results">
      {(data) =>
        data.categories.length === 0 ? (
          <Empty title={`Nothing was sent between ${longDay(data.from)} and ${longDay(data.to)}`}>
            Results appear an hour after the first sending: they are pulled in from the networks.
          </Empty>
        ) : (
          <Renewing renewing={results.isPlaceholderData}>
            <Sum data={data} />
            <Uncounted />
            {!data.isRate && data.total > 0 && <Ribbons rows={data.categories} />}
            <CategoryRows data={data} onOpen={(key) => onOpen({ by: 'category', key })} />
            <Pairs data={data} />
            <Mix question={question} />
            <h2 className="mb-2">All figures</h2>
            <CategoryTable data={data} />
            <AnyCategory question={question} onOpen={onOpen} />
            <HowItIsCounted data={data} />
          </Renewing>
        )
      }
    </Fetched>
  );
}

function Sum({ data }: { data: ResultsView }) {
  const measure = useVocabulary().data?.measures.find((m) => m.key === data.measure);
  const value = measured(data.isRate);
  const against = (then: ResultsView['before'], what: string) => {
    if (!then.perDay || data.perDay === null) return null;
    const change = data.perDay / then.perDay;
    return `${times(change)} times ${what} (${shortDay(then.from)} to ${shortDay(then.to)})`;
  };
  const compared = [against(data.before, 'the period before'), against(data.yearBefore, 'the year before')].filter(
    (words) => words !== null,
  );
  return (
    <p className="mb-4 max-w-[80ch]">
      <b className="font-head text-lg">{whole(data.deliveries)}</b> deliveries of{' '}
      <b className="font-head text-lg">{whole(data.posts)}</b> posts {data.isRate ? 'had an ' : 'earned '}
      {data.isRate ? (
        <>
          {measure?.words} of <b className="font-head text-lg">{value(data.rate)}</b>
        </>
      ) : (
        <>
          <b className="font-head text-lg">{whole(data.total)}</b> {measure?.words}
        </>
      )}
      {data.age !== 'latest' && ` within ${ages.find((a) => a.value === data.age)?.label} of sending`}
      {compared.length > 0 && `, ${data.isRate ? '' : 'per day '}${listWords(compared)}`}.
      {data.leftOut > 0 &&
        ` ${whole(data.leftOut)} more without these figures${data.age === 'latest' ? '' : ', or still younger,'} are left out.`}
    </p>
  );
}

/** What was posted on the channels themselves, and still counts nowhere. */
function Uncounted() {
  const { to } = useWorkspacePath();
  const count = useUncounted();
  if (count === 0) return null;
  return (
    <p className="-mt-2 mb-4">
      {count === 1 ? 'One post was' : `${count} posts were`} made on the channels themselves and{' '}
      {count === 1 ? 'counts' : 'count'} nowhere yet.{' '}
      <Link className="link" to={to('results?by=outside')}>
        Say of which category
      </Link>
    </p>
  );
}

/** A count, not a comparison: a delivery stands under each of its post's categories. */
function AnyCategory({ question, onOpen }: { question: Question; onOpen: (what: BehindWhat) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-3" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer text-faded">A count by any category, further ones too</summary>
      <div className="mt-2">{open && <Groups question={question} by="anyCategory" onOpen={onOpen} />}</div>
    </details>
  );
}

/** Two that seem to stand the other way round. */
function Pairs({ data }: { data: ResultsView }) {
  const categories = useCategories().data ?? [];
  const name = (id: string) => categories.find((c: Category) => c.id === id)?.name ?? 'a category';
  const changed = data.pairs.filter((p) => p.changes);
  if (changed.length === 0) return null;
  return (
    <ul className="mb-6 max-w-[80ch] list-none border-dawn border-l-4 pl-4" aria-label="Where the order changes">
      {changed.map((pair) => (
        <li key={pair.first + pair.second} className="my-1">
          <b>{name(pair.first)}</b> earns more than <b>{name(pair.second)}</b> where both go out alike:{' '}
          {times(pair.adjusted.value)} times as much ({times(pair.adjusted.low)} to {times(pair.adjusted.high)}). As it
          stands it looks the other way round, {times(1 / pair.raw)} times as much for {name(pair.second)}.
        </li>
      ))}
    </ul>
  );
}

function HowItIsCounted({ data }: { data: ResultsView }) {
  const { measures = [], figures = [] } = useVocabulary().data ?? {};
  const networks = useNetworks().data ?? [];
  const measure = measures.find((m) => m.key === data.measure);
  return (
    <p className="mt-3 max-w-[80ch] text-faded text-sm">
      {measure && `${measure.words[0]?.toUpperCase()}${measure.words.slice(1)}: ${measure.how}.`}
      {data.lacks.length > 0 &&
        ` Some of these networks don’t tell ${listWords(figures.filter((f) => data.lacks.includes(f.key)).map((f) => f.words))}, so that is left out there.`}
      {data.notTold.length > 0 &&
        ` Not told, and so left out, by ${listWords(networks.filter((n) => data.notTold.includes(n.key)).map((n) => n.name))}.`}{' '}
      Ring: as it stands. Disc: compared fairly, had all gone out on the same channels at the same hours, on its 95 %
      interval. “Fairly sure” is said only where chance alone would do so less than once in twenty times, for all
      categories together, and the interval leaves out its share.
    </p>
  );
}
