import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, ask } from '../api/client';
import { PersonMenu } from '../frame/Frame';
import { WorkspaceSwitch } from '../frame/WorkspaceSwitch';
import { useNews } from '../live/useNews';
import { type Session, useSession } from '../sessions/session';
import { addDays, dayWords, longDay, mondayOf, readDate, shortDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { ErrorBoundary } from '../ui/ErrorBoundary';
import { Fetched, Renewing } from '../ui/States';
import { type WorkspaceLink, WorkspaceProvider } from '../workspaces/workspace';
import { OverviewToday } from './OverviewToday';
import { OverviewWeek } from './OverviewWeek';
import type { WorkspaceOverview } from './workspaceOverview';

const views = [
  { value: 'today', label: 'Today' },
  { value: 'week', label: 'Week' },
] as const;

function useOverview(from: string | null, days: number) {
  return useQuery({
    queryKey: ['overview', from, days],
    placeholderData: (before) => before,
    refetchInterval: 60_000,
    queryFn: () => ask(api.GET('/api/overview', { params: { query: { days, ...(from && { from }) } } })),
  });
}

/** All workspaces that somebody belongs to: what needs them and what goes out, done from here. */
export function Overview() {
  const session = useSession().data;
  return session ? <Page session={session} /> : null;
}

function Page({ session }: { session: Session }) {
  const [search, setSearch] = useSearchParams();
  const view = search.get('view') === 'week' ? 'week' : 'today';
  const on = readDate(search.get('on'));
  // The server's clock says which day it is; until it has answered, this machine's.
  const [today, setToday] = useState(new Date().toISOString().slice(0, 10));
  const monday = mondayOf(on ?? today);
  const overview = useOverview(view === 'week' ? monday : null, view === 'week' ? 7 : 2);
  const told = overview.data?.[0]?.lineUp.today;
  if (told && told !== today) setToday(told);
  const set = (changes: Record<string, string | null>) =>
    setSearch(
      (before) => {
        for (const [name, value] of Object.entries(changes)) value ? before.set(name, value) : before.delete(name);
        return before;
      },
      { replace: 'entry' in changes },
    );
  const byId = new Map((overview.data ?? []).map((o) => [o.workspaceId, o]));
  const open = search.get('entry');
  const onOpen = (key: string | null) => set({ entry: key });
  return (
    <>
      <header
        data-overview
        className="sticky top-0 z-20 flex h-(--masthead) items-center gap-5 border-ink border-b-[1.5px] bg-paper px-6"
      >
        <WorkspaceSwitch session={session} open={null} />
        <Choice
          label="View"
          value={view}
          options={views}
          onChange={(next) => set({ view: next === 'week' ? next : null, entry: null })}
        />
        <div className="ml-auto text-sm">
          <PersonMenu session={session} />
        </div>
      </header>
      <main className="px-6 pt-5 pb-16">
        <div className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-2">
          <h1>
            {view === 'week' ? `${shortDay(monday)} to ${longDay(addDays(monday, 6))}` : 'What needs you, everywhere'}
          </h1>
          {view === 'week' && (
            <div className="flex gap-1">
              <Button aria-label="The week before" onClick={() => set({ on: addDays(monday, -7) })}>
                ←
              </Button>
              <Button disabled={monday === mondayOf(today)} onClick={() => set({ on: null })}>
                This week
              </Button>
              <Button aria-label="The week after" onClick={() => set({ on: addDays(monday, 7) })}>
                →
              </Button>
            </div>
          )}
        </div>
        <Fetched query={overview} what="all workspaces">
          {() => (
            <Renewing renewing={overview.isPlaceholderData}>
              {view === 'week' && <WeekHead monday={monday} />}
              {session.workspaces.map((workspace) => (
                <Section key={workspace.id} workspace={workspace} overview={byId.get(workspace.id)}>
                  {(data) =>
                    view === 'week' ? (
                      <OverviewWeek workspace={workspace} overview={data} monday={monday} open={open} onOpen={onOpen} />
                    ) : (
                      <OverviewToday workspace={workspace} overview={data} open={open} onOpen={onOpen} />
                    )
                  }
                </Section>
              ))}
            </Renewing>
          )}
        </Fetched>
      </main>
    </>
  );
}

/** What is done in it is done in its workspace. */
function Section({
  workspace,
  overview,
  children,
}: {
  workspace: WorkspaceLink;
  overview: WorkspaceOverview | undefined;
  children: (data: WorkspaceOverview) => React.ReactNode;
}) {
  if (!overview)
    return (
      <p className="border-rule border-t py-4 text-faded">
        {workspace.name} can’t be looked at just now.{' '}
        <Link className="link" to={`/w/${workspace.slug}/today`}>
          Open it
        </Link>
      </p>
    );
  return (
    <WorkspaceProvider value={workspace}>
      <Listening id={workspace.id} />
      <ErrorBoundary>{children(overview)}</ErrorBoundary>
    </WorkspaceProvider>
  );
}

function Listening({ id }: { id: string }) {
  const { connected } = useNews(id);
  const client = useQueryClient();
  useEffect(() => {
    if (connected) void client.invalidateQueries({ queryKey: ['overview'] });
  }, [connected, client]);
  return null;
}

function WeekHead({ monday }: { monday: string }) {
  return (
    <div className="grid grid-cols-[11rem_repeat(7,minmax(0,1fr))] border-ink border-t-[1.5px]">
      <span />
      {Array.from({ length: 7 }, (_, i) => addDays(monday, i)).map((day) => (
        <span key={day} className="border-rule border-l px-2 py-1 font-head font-semibold">
          {dayWords(day)}
        </span>
      ))}
    </div>
  );
}
