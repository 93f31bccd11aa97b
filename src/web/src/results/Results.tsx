import { useSearchParams } from 'react-router';
import { addDays, longDay, readDate } from '../time/dates';
import { Choice } from '../ui/Choice';
import { DateField } from '../ui/DateField';
import { Empty, Fetched } from '../ui/States';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspace } from '../workspaces/workspace';
import { CategoryBars } from './CategoryBars';
import { CategoryTable } from './CategoryTable';
import { type FigureAge, useResults } from './results';
import { listWords, whole } from './words';

const ages: readonly { value: FigureAge; label: string }[] = [
  { value: 'latest', label: 'Up to now' },
  { value: 'day', label: 'After 24 hours' },
  { value: 'week', label: 'After 7 days' },
  { value: 'fourWeeks', label: 'After 28 days' },
];

const spans = [7, 14, 28, 91] as const;

/** What each category took and what it earned, for a period. */
export function Results() {
  const [search, setSearch] = useSearchParams();
  const today = useWorkspace().data?.today ?? null;
  const to = readDate(search.get('to')) ?? today;
  const from = readDate(search.get('from')) ?? (to && addDays(to, -27));
  const age = ages.find((a) => a.value === search.get('age'))?.value ?? 'latest';
  const results = useResults(from, to, age);
  const figures = useVocabulary().data?.figures ?? [];
  const set = (changes: Record<string, string | null>) =>
    setSearch((before) => {
      for (const [name, value] of Object.entries(changes)) value ? before.set(name, value) : before.delete(name);
      return before;
    });

  return (
    <>
      <div className="mb-5 flex flex-wrap items-end gap-x-5 gap-y-2">
        <h1>What each category earned</h1>
        {from && to && today && (
          <>
            <fieldset className="flex items-center gap-1.5">
              <legend className="sr-only">Period</legend>
              <DateField
                aria-label="From"
                today={today}
                className="w-44"
                value={from}
                onChange={(date) => set({ from: date })}
              />
              <span>to</span>
              <DateField
                aria-label="To"
                today={today}
                className="w-44"
                value={to}
                onChange={(date) => set({ to: date })}
              />
              {spans.map((days) => (
                <button
                  key={days}
                  type="button"
                  className="rounded-md px-1.5 py-0.5 text-sm underline decoration-rule-strong underline-offset-4 hover:bg-wash"
                  onClick={() => set({ from: addDays(today, 1 - days), to: today })}
                >
                  {days} days
                </button>
              ))}
            </fieldset>
            <Choice
              label="Figures"
              value={age}
              options={ages}
              onChange={(next) => set({ age: next === 'latest' ? null : next })}
            />
          </>
        )}
      </div>
      <Fetched query={results} what="the results">
        {(data) =>
          data.categories.length === 0 ? (
            <Empty title={`Nothing was sent between ${longDay(data.from)} and ${longDay(data.to)}`}>
              Results appear an hour after the first sending: they are pulled in from the networks.
            </Empty>
          ) : (
            <>
              <p className="mb-5 max-w-prose">
                <b className="font-head text-lg">{data.deliveries}</b> deliveries earned{' '}
                <b className="font-head text-lg">{whole(data.engagements)}</b> engagements
                {data.reach !== null && (
                  <>
                    {' '}
                    from a reach of <b className="font-head text-lg">{whole(data.reach)}</b>
                  </>
                )}
                .{data.leftOut > 0 && ` ${data.leftOut} more without these figures are left out.`}
              </p>
              <CategoryBars rows={data.categories} />
              <CategoryTable rows={data.categories} />
              <p className="mt-3 max-w-prose text-faded text-sm">
                Engagements are {listWords(figures.filter((f) => f.isEngagement).map((f) => f.words))}.
                {data.notOffered.length > 0 &&
                  ` Not offered by these networks, so left out: ${listWords(figures.filter((f) => data.notOffered.includes(f.key)).map((f) => f.words))}.`}{' '}
                Engagement rate is engagements ÷ reach, sum over sum. Index 1 earns what it takes; small numbers of
                posts swing widely.
              </p>
            </>
          )
        }
      </Fetched>
    </>
  );
}
