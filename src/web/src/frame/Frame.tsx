import { NavLink, Outlet } from 'react-router';
import { DemoClock } from '../demo/DemoClock';
import { FourWeekStrip } from '../lineup/FourWeekStrip';
import { useMovingByHand } from '../lineup/moving';
import { useNews } from '../live/useNews';
import { type Session, useSignOut } from '../sessions/session';
import { clock, dayWords, zoneWords } from '../time/dates';
import { ErrorBoundary } from '../ui/ErrorBoundary';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { useWorkspace, useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';
import { Keys } from './Keys';
import { LastActs } from './LastActs';
import { useTheme } from './theme';
import { WorkspaceSwitch } from './WorkspaceSwitch';

const sections = [
  { path: 'today', label: 'Today' },
  { path: 'calendar', label: 'Calendar' },
  { path: 'rota', label: 'Rota' },
  { path: 'bank', label: 'Bank' },
  { path: 'media', label: 'Media' },
  { path: 'results', label: 'Results' },
  { path: 'set-up', label: 'Set-up' },
] as const;

export function Frame({ session }: { session: Session }) {
  const { id, to } = useWorkspacePath();
  const link = useWorkspaceLink();
  const { connected } = useNews(id);
  useMovingByHand();

  return (
    <>
      <a href="#view" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-leaf focus:p-2">
        Go to the view
      </a>
      <header className="sticky top-0 z-20 h-(--head) bg-paper px-6">
        <div className="flex h-(--masthead) items-center gap-2 min-[1200px]:gap-5">
          <WorkspaceSwitch session={session} open={link} />
          <nav aria-label="Sections" className="flex shrink-0 gap-0.5">
            {sections.map((section) => (
              <NavLink
                key={section.path}
                to={to(section.path)}
                className={({ isActive }) =>
                  `whitespace-nowrap border-b-[3px] px-2 py-1 min-[1200px]:px-2.5 ${
                    isActive
                      ? 'border-dawn font-semibold'
                      : 'border-transparent text-faded hover:border-rule-strong hover:text-ink'
                  }`
                }
              >
                {section.label}
              </NavLink>
            ))}
          </nav>
          <div className="ml-auto flex shrink-0 items-center text-sm">
            <span data-aside className="flex items-center">
              <Keys session={session} />
              <Now demo={session.demo} />
            </span>
            <LastActs />
            <PersonMenu session={session} />
          </div>
        </div>
        <FourWeekStrip />
      </header>
      {!connected && (
        <p role="status" className="bg-dawn-wash px-6 py-1.5 text-sm">
          The server gives no answer just now. You can go on; what you type is kept and saved as soon as it is back.
        </p>
      )}
      <main id="view" className="px-6 pt-5 pb-16">
        <ErrorBoundary>
          <Outlet />
        </ErrorBoundary>
      </main>
    </>
  );
}

function Now({ demo }: { demo: boolean }) {
  const workspace = useWorkspace();
  if (!workspace.data) return null;
  const { today, localTime, zone } = workspace.data;
  const words = (
    <>
      <span className="font-head font-semibold text-base">{clock(localTime)}</span>
      <span className="whitespace-nowrap">{dayWords(today)}</span>
      <span className="whitespace-nowrap text-faded max-[1200px]:sr-only">{zoneWords(zone)}</span>
    </>
  );
  return demo ? <DemoClock>{words}</DemoClock> : <span className="flex items-baseline gap-2 px-2">{words}</span>;
}

export function PersonMenu({ session }: { session: Session }) {
  const signOut = useSignOut();
  const [theme, setTheme] = useTheme();
  return (
    <Menu
      label="Account:"
      align="end"
      triggerClass="max-w-[9rem] truncate max-[1100px]:max-w-[7rem]"
      trigger={session.name}
    >
      <MenuText>{session.email}</MenuText>
      <MenuItem onSelect={() => setTheme(theme === 'dark' ? 'light' : 'dark')}>
        {theme === 'dark' ? 'Light' : 'Dark'}
      </MenuItem>
      <MenuItem onSelect={() => signOut.mutate()}>Sign out</MenuItem>
    </Menu>
  );
}
