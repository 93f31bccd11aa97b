import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

const jumps: readonly { by: Schemas['Jump']; label: string }[] = [
  { by: 'hour', label: 'Move on an hour' },
  { by: 'day', label: 'Move on a day' },
  { by: 'week', label: 'Move on a week' },
];

/** Moves the demo's time on, so that a planned week can be watched going out. */
export function DemoClock({ children }: { children: React.ReactNode }) {
  const { id } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const clock = useQuery({
    queryKey: ['clock', id],
    queryFn: () => ask(api.GET('/api/demo/clock')),
    refetchInterval: (query) => (query.state.data?.target ? 1000 : false),
  });
  const jump = useMutation({
    mutationFn: (by: Schemas['Jump']) => ask(api.POST('/api/demo/clock', { body: { by } })),
    onSuccess: (time) => client.setQueryData(['clock', id], time),
    onError: (error) => trouble(wordsOf(error)),
  });
  const moving = Boolean(clock.data?.target);

  return (
    <Menu
      label={moving ? 'Demo clock, moving:' : 'Demo clock:'}
      align="end"
      trigger={
        <span className="flex items-baseline gap-2" data-moving={moving}>
          {children}
          <span aria-hidden="true" className={moving ? 'animate-pulse text-dawn' : 'text-faded'}>
            {moving ? '»»' : '»'}
          </span>
        </span>
      }
    >
      <MenuText>The demo’s time can be moved on</MenuText>
      {jumps.map(({ by, label }) => (
        <MenuItem key={by} disabled={moving} onSelect={() => jump.mutate(by)}>
          {label}
        </MenuItem>
      ))}
    </Menu>
  );
}
