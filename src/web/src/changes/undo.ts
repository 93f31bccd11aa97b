import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, ask, wordsOf } from '../api/client';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

/** Takes back one act, named by its change set, and says what could not be taken back. */
export function useUndo() {
  const { path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  return useMutation({
    mutationFn: (id: string) =>
      ask(api.POST('/api/workspaces/{workspaceId}/changes/{id}/undo', { params: { path: { ...path, id } } })),
    onSuccess: async (result) => {
      tell(['Taken back.', ...result.kept].join(' '));
      await client.invalidateQueries();
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** Tells that an act was done, with its undoing at hand. */
export function useTellUndoable() {
  const { tell } = useNotices();
  const undo = useUndo();
  return (words: string, changeSetId: string) => tell(words, { label: 'Undo', run: () => undo.mutate(changeSetId) });
}
