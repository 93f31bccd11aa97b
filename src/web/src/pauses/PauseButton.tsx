import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { shortDay } from '../time/dates';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

interface Props {
  what: Schemas['Paused'];
  /** What is paused; left out for the whole workspace. */
  target?: string;
  name: string;
  words?: string;
}

/** Pauses something, from today until somebody ends it. */
export function PauseButton({ what, target, name, words = 'Pause' }: Props) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  const pauses = useQuery({
    queryKey: ['rota', id, 'pauses'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/pauses', { params: { path } })),
  });
  const again = () => refresh(client, id, ['rota']);
  const onError = (error: unknown) => trouble(wordsOf(error));
  const begin = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/pauses', { params: { path }, body: { what, target: target ?? null } }),
      ),
    onSuccess: () => {
      tell(`${name} is paused until you end that.`);
      return again();
    },
    onError,
  });
  const end = useMutation({
    mutationFn: (pause: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/pauses/{id}', { params: { path: { ...path, id: pause } } })),
    onSuccess: ({ changeSetId }) => {
      tellUndoable(`${name} goes on.`, changeSetId);
      return again();
    },
    onError,
  });
  const present = pauses.data?.find((p) => p.what === what && (target === undefined || p.target === target));
  if (!present)
    return (
      <Button
        aria-label={`${words}: ${name}`}
        disabled={begin.isPending || !pauses.data}
        onClick={() => begin.mutate()}
      >
        {words}
      </Button>
    );
  return (
    <span className="flex items-center gap-2">
      <span className="text-dawn text-sm">paused since {shortDay(present.from)}</span>
      <Button aria-label={`End the pause: ${name}`} disabled={end.isPending} onClick={() => end.mutate(present.id)}>
        End the pause
      </Button>
    </span>
  );
}
