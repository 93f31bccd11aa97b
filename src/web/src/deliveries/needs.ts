import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

export type Need = Schemas['NeedView'];
export type PutAside = Schemas['PutAsideView'];
export type Passed = Schemas['PassedView'];

/** Deliveries that wait for a person. */
export function useNeeds() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['needs', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/needs', { params: { path } })),
  });
}

/** Places of the rota that were missed lately. */
export function usePassed() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['needs', id, 'passed'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/needs/passed', { params: { path } })),
  });
}

/** What the background work fails on again and again. */
export function usePutAside() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['needs', id, 'putAside'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/needs/put-aside', { params: { path } })),
  });
}

/** Rows that can’t be read and are left out: for who sets the workspace up. */
export function useDamaged(isAsked: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['needs', id, 'damaged'],
    enabled: isAsked,
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/needs/damaged', { params: { path } })),
  });
}

export function useDismissPassed() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: (ids: string[]) =>
      ask(api.POST('/api/workspaces/{workspaceId}/needs/passed/dismiss', { params: { path }, body: { ids } })),
    onSuccess: ({ changeSetId }) => {
      tellUndoable('Dismissed.', changeSetId);
      return refresh(client, id, ['deliveries']);
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}
