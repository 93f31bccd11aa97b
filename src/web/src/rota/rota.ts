import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export type Slot = Schemas['SlotView'];
export type SlotEdit = Schemas['SlotEdit'];

export function useRota() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['rota', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/rota', { params: { path } })),
  });
}

function useRotaChange<In, Out>(mutationFn: (given: In) => Promise<Out>) {
  const { id } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: () => Promise.all(['rota', 'lineUp'].map((name) => client.invalidateQueries({ queryKey: [name, id] }))),
  });
}

/** Adds a slot, or changes the one with the given id. */
export function useSaveSlot() {
  const { path } = useWorkspacePath();
  return useRotaChange(({ id, edit }: { id: string | null; edit: SlotEdit }) =>
    id
      ? ask(api.PUT('/api/workspaces/{workspaceId}/rota/slots/{id}', { params: { path: { ...path, id } }, body: edit }))
      : ask(api.POST('/api/workspaces/{workspaceId}/rota/slots', { params: { path }, body: edit })),
  );
}

export function useRemoveSlot() {
  const { path } = useWorkspacePath();
  return useRotaChange((id: string) =>
    ask(api.DELETE('/api/workspaces/{workspaceId}/rota/slots/{id}', { params: { path: { ...path, id } } })),
  );
}
