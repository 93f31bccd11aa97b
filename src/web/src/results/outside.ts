import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';

export type OutsidePost = Schemas['OutsideView'];

/** Posts that people made on the channels themselves, the latest first. */
export function useOutside() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, 'outside'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/outside', { params: { path } })),
  });
}

/** Lets one count, under a category or as a post of the bank; or says that it needn't. */
export function useOutsideActs() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const done = {
    onError: (error: unknown) => trouble(wordsOf(error)),
    onSettled: () => refresh(client, workspace, ['results', 'deliveries', 'posts']),
  };
  const count = useMutation({
    mutationFn: ({
      id,
      categoryId = null,
      postId = null,
    }: {
      id: string;
      categoryId?: string | null;
      postId?: string | null;
    }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/outside/{id}/count', {
          params: { path: { ...path, id } },
          body: { categoryId, postId },
        }),
      ),
    onSuccess: () => tell('It counts from now on. Its delivery can be counted under another category later.'),
    ...done,
  });
  const leave = useMutation({
    mutationFn: ({ id, leftOut }: { id: string; leftOut: boolean }) =>
      ask(
        api.PUT('/api/workspaces/{workspaceId}/outside/{id}/left-out', {
          params: { path: { ...path, id } },
          body: { leftOut },
        }),
      ),
    ...done,
  });
  return { count, leave };
}
