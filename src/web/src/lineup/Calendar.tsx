import { useCallback, useRef } from 'react';
import { Link, useSearchParams } from 'react-router';
import { wordsOf } from '../api/client';
import { CategorySelect } from '../categories/categories';
import { ChannelSelect } from '../channels/channels';
import { useRotas } from '../rota/rota';
import { addDays, longDay, mondayOf, readDate, shortDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import { Empty, Failed, Waiting } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { EntrySheet } from './EntrySheet';
import { Lanes } from './Lanes';
import { useLineUp, useSchedule } from './lineup';
import { TideTable } from './TideTable';

const views = [
  { value: 'lanes', label: 'Week' },
  { value: 'list', label: 'Line-up' },
] as const;

const laneKinds = [
  { value: 'channel', label: 'By channel' },
  { value: 'category', label: 'By category' },
] as const;

/** Days of the look-ahead list. */
const ahead = 14;

/** Everything that narrows the view is kept in the address bar, so that it can be sent to a colleague. */
export function Calendar() {
  const [search, setSearch] = useSearchParams();
  const workspace = useWorkspace();
  const today = workspace.data?.today ?? null;
  const view = search.get('view') === 'list' ? 'list' : 'lanes';
  const lanes = search.get('lanes') === 'category' ? 'category' : 'channel';
  const monday = today && mondayOf(readDate(search.get('week')) ?? today);
  const from = view === 'list' ? today : monday;
  const to = from && addDays(from, view === 'list' ? ahead - 1 : 6);
  const lineUp = useLineUp(from, to);
  const category = search.get('category') ?? '';
  const channel = search.get('channel') ?? '';
  const rota = search.get('rota') ?? '';
  const chosen = search.get('entry');

  const set = (changes: Record<string, string | null>) =>
    setSearch(
      (before) => {
        for (const [name, value] of Object.entries(changes)) value ? before.set(name, value) : before.delete(name);
        return before;
      },
      { replace: 'entry' in changes },
    );

  const entries = (lineUp.data?.entries ?? []).filter(
    (e) =>
      (!category || e.categoryId === category) && (!channel || e.channelId === channel) && (!rota || e.rotaId === rota),
  );
  const choose = useStable((key: string) => set({ entry: key }));
  const chosenEntry = lineUp.data?.entries.find((e) => e.key === chosen);

  return (
    <>
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2">
        <h1>{view === 'list' ? 'The line-up' : monday && weekTitle(monday)}</h1>
        {view === 'lanes' && monday && today && (
          <div className="flex gap-1">
            <Button aria-label="The week before" onClick={() => set({ week: addDays(monday, -7) })}>
              ←
            </Button>
            <Button disabled={monday === mondayOf(today)} onClick={() => set({ week: null })}>
              This week
            </Button>
            <Button aria-label="The week after" onClick={() => set({ week: addDays(monday, 7) })}>
              →
            </Button>
          </div>
        )}
        {today && <ScheduleButton through={addDays(today, ahead - 1)} />}
      </div>
      <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        <Choice
          label="View"
          value={view}
          options={views}
          onChange={(next) => set({ view: next === 'list' ? next : null })}
        />
        {view === 'lanes' && (
          <Choice
            label="Lanes"
            value={lanes}
            options={laneKinds}
            onChange={(next) => set({ lanes: next === 'category' ? next : null })}
          />
        )}
        <div className="flex gap-2">
          <div className="w-40">
            <CategorySelect
              aria-label="Only this category"
              none="All categories"
              value={category}
              onChange={(value) => set({ category: value })}
            />
          </div>
          <div className="w-40">
            <ChannelSelect
              aria-label="Only this channel"
              none="All channels"
              value={channel}
              onChange={(value) => set({ channel: value })}
            />
          </div>
          <RotaFilter value={rota} onChange={(value) => set({ rota: value })} />
        </div>
      </div>
      <Body lineUp={lineUp}>
        {lineUp.data && monday && today && (
          <>
            {lineUp.data.entries.length === 0 && <NothingPlanned />}
            {view === 'lanes' ? (
              <Lanes
                monday={monday}
                today={today}
                entries={entries}
                lanes={lanes}
                only={lanes === 'channel' ? channel : category}
                chosen={chosen}
                onChoose={choose}
              />
            ) : (
              <TideTable entries={entries} chosen={chosen} onChoose={choose} />
            )}
            <p className="mt-3 text-faded text-sm">
              Times are those of {lineUp.data.zone}.
              {lineUp.data.scheduledThrough &&
                ` Scheduled through ${longDay(lineUp.data.scheduledThrough)}; later places may still change.`}
            </p>
          </>
        )}
      </Body>
      <EntrySheet entry={chosenEntry} onClose={() => set({ entry: null })} />
    </>
  );
}

/** Only where there are several rotas to choose from. */
function RotaFilter({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const rotas = useRotas().data ?? [];
  if (rotas.length < 2) return null;
  return (
    <div className="w-40">
      <Select
        aria-label="Only this rota"
        value={value}
        none="All rotas"
        options={rotas.map((r) => ({ value: r.id, label: r.name }))}
        onChange={onChange}
      />
    </div>
  );
}

/** The same function from one rendering to the next, doing what the latest would. */
function useStable<T extends unknown[]>(act: (...given: T) => void): (...given: T) => void {
  const latest = useRef(act);
  latest.current = act;
  return useCallback((...given: T) => latest.current(...given), []);
}

const weekTitle = (monday: string) => `${shortDay(monday)} to ${longDay(addDays(monday, 6))}`;

function Body({ lineUp, children }: { lineUp: ReturnType<typeof useLineUp>; children: React.ReactNode }) {
  if (lineUp.error && !lineUp.data) return <Failed error={lineUp.error} retry={() => void lineUp.refetch()} />;
  if (!lineUp.data) return <Waiting what="the line-up" />;
  return children;
}

function ScheduleButton({ through }: { through: string }) {
  const schedule = useSchedule();
  const { tell, trouble } = useNotices();
  return (
    <Button
      className="ml-auto"
      disabled={schedule.isPending}
      title={`Turns every place through ${longDay(through)} into a delivery that only a person changes`}
      onClick={() =>
        schedule.mutate(through, {
          onSuccess: ({ deliveries }) =>
            tell(
              deliveries === 0
                ? `Everything through ${longDay(through)} was scheduled already.`
                : `Scheduled through ${longDay(through)}: ${deliveries} deliveries that only a person changes now.`,
            ),
          onError: (error) => trouble(wordsOf(error)),
        })
      }
    >
      Schedule two weeks
    </Button>
  );
}

function NothingPlanned() {
  const { to } = useWorkspacePath();
  return (
    <div className="mb-6">
      <Empty
        title="Nothing goes out in this time"
        act={
          <Link to={to('rota')} className="link">
            Lay out the recurring week
          </Link>
        }
      >
        Slots of the rota appear here by themselves. Or open a post in the bank and set date and time.
      </Empty>
    </div>
  );
}
