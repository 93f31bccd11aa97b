import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export type Note = Schemas['NoteView'];

/** Notes on days, weeks and months that touch any of these days. */
export function useNotes(from: string | null, to: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'notes', from, to],
    enabled: from !== null && to !== null,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/calendar/notes', {
          params: { path, query: { from: from ?? '', to: to ?? '' } },
        }),
      ),
  });
}
