import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { seen } from '../deliveries/deliveries';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Entry } from './lineup';

export type OccurrenceEdit = Partial<Schemas['OccurrenceEdit']>;

/** Decides about one occurrence; what the edit doesn't name stays as it is. */
export const decideOn = (path: { workspaceId: string }, entry: Entry, edit: OccurrenceEdit) =>
  ask(
    api.PATCH('/api/workspaces/{workspaceId}/line-up/occurrences/{slotId}/{date}', {
      params: { path: { ...path, slotId: entry.origin.id, date: entry.origin.date }, ...seen(entry.revision ?? 0) },
      body: { isFreed: false, ...edit },
    }),
  );

/** What decides about single occurrences; each act stands in the line-up at the next fetch and can be undone. */
export function useOccurrenceActs() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  const onError = (error: unknown) => trouble(wordsOf(error));
  const told = async (words: string, changeSetId: string) => {
    tellUndoable(words, changeSetId);
    await refresh(client, id, ['rota', 'posts']);
  };
  return {
    decide: useMutation({
      mutationFn: ({ entry, edit }: { entry: Entry; edit: OccurrenceEdit; words: string }) =>
        decideOn(path, entry, edit),
      onSuccess: ({ changeSetId }, { words }) => told(words, changeSetId),
      onError,
    }),
    move: useMutation({
      mutationFn: ({
        postId,
        channels,
        side,
      }: {
        postId: string;
        channels: string[];
        side: 'front' | 'back';
        title: string;
      }) =>
        ask(
          api.POST('/api/workspaces/{workspaceId}/line-up/moves', {
            params: { path },
            body: { postId, channels, side },
          }),
        ),
      onSuccess: ({ changeSetId }, { title, side }) => told(`“${title}” is at the ${side} of its line.`, changeSetId),
      onError,
    }),
  };
}

/** Every post of the line in the order in which it would go, and why the others can't. */
export function useCandidates(entry: Entry, isOpen: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', id, 'candidates', entry.origin.id, entry.origin.date],
    enabled: isOpen,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/line-up/occurrences/{slotId}/{date}/candidates', {
          params: { path: { ...path, slotId: entry.origin.id, date: entry.origin.date } },
        }),
      ),
  });
}
