import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { longDay } from '../time/dates';
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

/** What scheduling through a date would do. */
export function useSchedulePreview(through: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', id, 'schedule', through],
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/line-up/schedule', {
          params: { path, query: { through } },
        }),
      ),
  });
}

/** Turns everything through a date into deliveries that only a person changes, as it was shown. */
export function useSchedule() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ through, planStamp }: { through: string; planStamp: number }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/line-up/schedule', {
          params: { path },
          body: { through, planStamp },
        }),
      ),
    onSuccess: ({ deliveries, changeSetId }, { through }) =>
      tellUndoable(
        `Scheduled through ${longDay(through)}: ${deliveries} deliveries that only a person changes now.`,
        changeSetId,
      ),
    onSettled: () => refresh(client, id, ['deliveries']),
  });
}
