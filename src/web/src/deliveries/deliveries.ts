import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
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

const foundWords: Record<Schemas['Found'], string> = {
  isThere: 'Noted as sent.',
  isNotThere: 'It is sent again now.',
  lookAgain: 'The network is looked through again.',
};

/** Says which revision of a delivery the person looked at: whoever acts on an older one is told. */
export const seen = (revision: number | null | undefined) =>
  revision === null || revision === undefined ? {} : { header: { 'If-Match': `"${revision}"` } };

/** What a person does with one delivery; each act can be undone from its notice. */
export function useDeliveryActs(deliveryId: string, revision: number | null | undefined) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  const params = { params: { path: { ...path, id: deliveryId }, ...seen(revision) } };

  const renew = async () => {
    await refresh(client, id, ['deliveries']);
  };
  const done = (words: string) => async (result: { changeSetId: string }) => {
    tellUndoable(words, result.changeSetId);
    await renew();
  };
  const onError = (error: unknown) => {
    trouble(wordsOf(error));
    // Whoever came second sees what it is now.
    void renew();
  };

  return {
    found: useMutation({
      mutationFn: (body: Schemas['FoundRequest']) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/found', { ...params, body })),
      onSuccess: async (_, { found }) => {
        tell(foundWords[found]);
        await renew();
      },
      onError: renew,
    }),
    reschedule: useMutation({
      mutationFn: (body: Schemas['RescheduleRequest']) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/reschedule', { ...params, body })),
      onSuccess: done('Rescheduled.'),
    }),
    countUnder: useMutation({
      mutationFn: (categoryId: string) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/category', { ...params, body: { categoryId } })),
      onSuccess: async (result) => {
        done('Counted there from now on.')(result);
        await refresh(client, id, ['results']);
      },
      onError,
    }),
    sendRest: useMutation({
      mutationFn: (words: string | null) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/rest', { ...params, body: { words } })),
      onSuccess: async () => {
        tell('The rest is tried again.');
        await renew();
      },
      onError: renew,
    }),
    posted: useMutation({
      mutationFn: (address: string) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/posted', { ...params, body: { address } })),
      onSuccess: async () => {
        tell('Noted as posted.');
        await renew();
      },
      onError: renew,
    }),
    takeDown: useMutation({
      mutationFn: (byHand: boolean) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/take-down', { ...params, body: { byHand } })),
      onSuccess: async () => {
        tell('It is taken down.');
        await renew();
      },
      onError: renew,
    }),
    correct: useMutation({
      mutationFn: (body: Schemas['CorrectRequest']) =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/correct', { ...params, body })),
      onSuccess: done('It goes out again, corrected.'),
      onError: renew,
    }),
    dismiss: useMutation({
      /** The rest of a delivery puts no post back into its line. */
      mutationFn: (_what: 'failure' | 'rest') =>
        ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/dismiss', params)),
      onSuccess: (result, what) =>
        done(what === 'rest' ? 'Dismissed.' : 'Dismissed. The post goes first in its line.')(result),
      onError,
    }),
    cancel: useMutation({
      mutationFn: () => ask(api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/cancel', params)),
      onSuccess: done('Cancelled.'),
      onError,
    }),
  };
}
