import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { refresh } from '../api/queries';
import { useWorkspacePath } from '../workspaces/workspace';

export type Entry = Schemas['LineUpEntry'];
export type EntryAct = Schemas['EntryAct'];

/** What goes out, went out and would go out between two dates, both included. */
export function useLineUp(from: string | null, to: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', id, from, to],
    enabled: from !== null && to !== null,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/line-up', {
          params: { path, query: { from: from ?? '', to: to ?? '' } },
        }),
      ),
  });
}

/** Turns everything through a date into deliveries that only a person changes. */
export function useSchedule() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (through: string) =>
      ask(api.POST('/api/workspaces/{workspaceId}/line-up/schedule', { params: { path }, body: { through } })),
    onSuccess: () => refresh(client, id, ['deliveries']),
  });
}
