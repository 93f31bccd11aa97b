import { useNavigate } from 'react-router';
import { WorkspaceMark } from '../media/WorkspaceMark';
import type { Session } from '../sessions/session';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import type { WorkspaceLink } from '../workspaces/workspace';

/** @param open - The workspace that is looked at; null: all of them. */
export function WorkspaceSwitch({ session, open }: { session: Session; open: WorkspaceLink | null }) {
  const navigate = useNavigate();
  return (
    <Menu
      label="Switch the workspace:"
      triggerClass="-ml-2 min-w-24 max-w-[24rem] shrink"
      trigger={
        <span className="flex items-center gap-2">
          {open && <WorkspaceMark workspace={open} />}
          <span className="truncate font-head font-semibold text-[1.25rem]">{open?.name ?? 'All workspaces'}</span>
          <span aria-hidden="true" className="text-faded">
            ▾
          </span>
        </span>
      }
    >
      <MenuText>Workspaces</MenuText>
      {session.workspaces.length > 1 && (
        <MenuItem onSelect={() => navigate('/all')}>
          <span aria-hidden="true" className="w-4 text-dawn">
            {open ? '' : '●'}
          </span>
          All at once
        </MenuItem>
      )}
      {session.workspaces.map((workspace) => (
        <MenuItem key={workspace.id} onSelect={() => navigate(`/w/${workspace.slug}/today`)}>
          <span aria-hidden="true" className="w-4 text-dawn">
            {workspace.id === open?.id ? '●' : ''}
          </span>
          <WorkspaceMark workspace={workspace} size={18} />
          {workspace.name}
        </MenuItem>
      ))}
    </Menu>
  );
}
