import { NavLink, Outlet, useNavigate } from 'react-router';
import { DemoClock } from '../demo/DemoClock';
import { useNews } from '../live/useNews';
import { type Session, useSignOut } from '../sessions/session';
import { clock, dayWords } from '../time/dates';
import { useNeeds } from '../today/needs';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { useWorkspace, useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';
import { useTheme } from './theme';

const sections = [
  { path: 'today', label: 'Today' },
  { path: 'calendar', label: 'Calendar' },
  { path: 'rota', label: 'Rota' },
  { path: 'bank', label: 'Bank' },
  { path: 'results', label: 'Results' },
  { path: 'set-up', label: 'Set-up' },
] as const;

export function Frame({ session }: { session: Session }) {
  const { id, to } = useWorkspacePath();
  const { connected } = useNews(id);
  const needs = useNeeds();

  return (
    <>
      <a href="#view" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-leaf focus:p-2">
        Go to the view
      </a>
      <header className="sticky top-0 z-20 h-(--head) border-ink border-b-[1.5px] bg-paper px-6">
        <div className="flex items-center justify-between gap-6 pt-3">
          <WorkspaceSwitch session={session} />
          <div className="flex items-center gap-1 text-sm">
            <Now demo={session.demo} />
            <PersonMenu session={session} />
          </div>
        </div>
        <nav aria-label="Sections" className="absolute -bottom-[1.5px] flex gap-1">
          {sections.map((section) => (
            <NavLink
              key={section.path}
              to={to(section.path)}
              className={({ isActive }) =>
                `rounded-t-md border-[1.5px] border-b-0 px-4 py-1.5 ${
                  isActive
                    ? 'border-ink bg-paper font-semibold'
                    : 'border-transparent text-faded hover:bg-wash hover:text-ink'
                }`
              }
            >
              {section.label}
              {section.path === 'today' && (needs.data?.length ?? 0) > 0 && (
                <span className="ml-1.5 rounded-sm bg-bad px-1.5 text-paper text-xs">
                  {needs.data?.length}
                  <span className="sr-only"> waiting for a person</span>
                </span>
              )}
            </NavLink>
          ))}
        </nav>
      </header>
      {!connected && (
        <p role="status" className="bg-dawn-wash px-6 py-1.5 text-sm">
          The server gives no answer just now. You can go on; what you type is kept and saved as soon as it is back.
        </p>
      )}
      <main id="view" className="px-6 pt-5 pb-16">
        <Outlet />
      </main>
    </>
  );
}

function WorkspaceSwitch({ session }: { session: Session }) {
  const open = useWorkspaceLink();
  const navigate = useNavigate();
  return (
    <Menu
      label="Switch the workspace:"
      triggerClass="-ml-2 max-w-[38rem]"
      trigger={
        <span className="flex items-baseline gap-2">
          <span className="truncate font-head font-semibold text-[1.35rem]">{open.name}</span>
          <span aria-hidden="true" className="text-faded">
            ▾
          </span>
        </span>
      }
    >
      <MenuText>Workspaces</MenuText>
      {session.workspaces.map((workspace) => (
        <MenuItem key={workspace.id} onSelect={() => navigate(`/w/${workspace.slug}/today`)}>
          <span aria-hidden="true" className="w-4 text-dawn">
            {workspace.id === open.id ? '●' : ''}
          </span>
          {workspace.name}
        </MenuItem>
      ))}
    </Menu>
  );
}

function Now({ demo }: { demo: boolean }) {
  const workspace = useWorkspace();
  if (!workspace.data) return null;
  const { today, localTime, zone } = workspace.data;
  const words = (
    <>
      <span className="font-head font-semibold text-base">{clock(localTime)}</span>
      <span>{dayWords(today)}</span>
      <span className="text-faded">{zone.split('/').at(-1)?.replaceAll('_', ' ')} time</span>
    </>
  );
  return demo ? <DemoClock>{words}</DemoClock> : <span className="flex items-baseline gap-2 px-2">{words}</span>;
}

function PersonMenu({ session }: { session: Session }) {
  const signOut = useSignOut();
  const [theme, setTheme] = useTheme();
  return (
    <Menu label="Account:" align="end" trigger={session.name}>
      <MenuText>{session.email}</MenuText>
      <MenuItem onSelect={() => setTheme(theme === 'dusk' ? 'paper' : 'dusk')}>
        {theme === 'dusk' ? 'Show on paper' : 'Show at dusk'}
      </MenuItem>
      <MenuItem onSelect={() => signOut.mutate()}>Sign out</MenuItem>
    </Menu>
  );
}
