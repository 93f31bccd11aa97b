import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, sendForm, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

export type Source = Schemas['CalendarSourceView'];
type CalendarRead = Schemas['CalendarRead'];

export function useKindActs(onDone: () => void) {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  const done = () => {
    onDone();
    return refresh(client, workspace, ['calendar']);
  };
  return {
    save: useMutation({
      mutationFn: ({ id, body }: { id: string | null; body: Schemas['KeyDateKindEdit'] }) =>
        id
          ? ask(
              api.PUT('/api/workspaces/{workspaceId}/key-date-kinds/{id}', { params: { path: { ...path, id } }, body }),
            )
          : ask(api.POST('/api/workspaces/{workspaceId}/key-date-kinds', { params: { path }, body })),
      onSuccess: done,
    }),
    remove: useMutation({
      mutationFn: ({ id }: { id: string; name: string }) =>
        ask(api.DELETE('/api/workspaces/{workspaceId}/key-date-kinds/{id}', { params: { path: { ...path, id } } })),
      onSuccess: ({ changeSetId }, { name }) => {
        tellUndoable(`The kind ${name} is removed.`, changeSetId);
        return done();
      },
      onError: (error) => trouble(wordsOf(error)),
    }),
  };
}

export function useSources() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'sources'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/calendar-sources', { params: { path } })),
  });
}

const readWords = ({ name, added, changed, gone, leftOut }: CalendarRead) =>
  `${name}: ${added} new, ${changed} changed, ${gone} gone${leftOut.length > 0 ? `; ${leftOut.length} left out` : ''}.`;

export function useSourceActs() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  const onSuccess = (read: CalendarRead) => {
    if (read.changeSetId) tellUndoable(readWords(read), read.changeSetId);
    return refresh(client, workspace, ['calendar']);
  };
  const onError = (error: unknown) => trouble(wordsOf(error));
  return {
    add: useMutation({
      mutationFn: (body: { kindId: string; address: string }) =>
        ask(api.POST('/api/workspaces/{workspaceId}/calendar-sources', { params: { path }, body })),
      onSuccess,
    }),
    bring: useMutation({
      mutationFn: ({ kindId, file }: { kindId: string; file: File }) => {
        const form = new FormData();
        form.append('kindId', kindId);
        form.append('file', file);
        return sendForm<CalendarRead>('POST', `/api/workspaces/${workspace}/calendar-sources/files`, form);
      },
      onSuccess,
      onError,
    }),
    readAgain: useMutation({
      mutationFn: (id: string) =>
        ask(
          api.POST('/api/workspaces/{workspaceId}/calendar-sources/{id}/read', { params: { path: { ...path, id } } }),
        ),
      onSuccess,
      onError,
    }),
    remove: useMutation({
      mutationFn: ({ id }: Source) =>
        ask(api.DELETE('/api/workspaces/{workspaceId}/calendar-sources/{id}', { params: { path: { ...path, id } } })),
      onSuccess: ({ changeSetId }, { name }) => {
        tellUndoable(`${name} is no longer read.`, changeSetId);
        return refresh(client, workspace, ['calendar']);
      },
      onError,
    }),
  };
}
