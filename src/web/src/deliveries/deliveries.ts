import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { useUndo } from '../changes/undo';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

export function useDelivery(deliveryId: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['delivery', id, deliveryId],
    enabled: deliveryId !== null,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/deliveries/{id}', {
          params: { path: { ...path, id: deliveryId ?? '' } },
        }),
      ),
  });
}

/** What a person does with one delivery; each act can be undone from its notice. */
export function useDeliveryActs(deliveryId: string) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const undo = useUndo();
  const params = { params: { path: { ...path, id: deliveryId } } };

  const settle = async () => {
    await Promise.all(
      ['lineUp', 'needs', 'delivery', 'post'].map((name) => client.invalidateQueries({ queryKey: [name, id] })),
    );
  };
  const done = (words: string) => async (result: { changeSetId: string }) => {
    tell(words, { label: 'Undo', run: () => undo.mutate(result.changeSetId) });
    await settle();
  };
  const onError = (error: unknown) => trouble(wordsOf(error));

  return {
    reschedule: useMutation({
      mutationFn: (body: Schemas['RescheduleRequest']) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/reschedule', { ...params, body })),
      onSuccess: done('Rescheduled.'),
    }),
    dismiss: useMutation({
      mutationFn: () => ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/dismiss', params)),
      onSuccess: done('Dismissed. The post goes first in its line.'),
      onError,
    }),
    cancel: useMutation({
      mutationFn: () => ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/cancel', params)),
      onSuccess: done('Cancelled.'),
      onError,
    }),
  };
}
