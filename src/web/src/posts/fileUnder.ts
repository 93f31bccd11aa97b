import { api, ask, wordsOf } from '../api/client';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import { useChangePost } from './posts';

/** Makes a post one of another category, by its latest version. */
export function useFileUnder() {
  const { path } = useWorkspacePath();
  const change = useChangePost();
  const { trouble } = useNotices();
  return (id: string, category: { id: string; name: string }) =>
    void ask(api.GET('/api/workspaces/{workspaceId}/posts/{id}', { params: { path: { ...path, id } } })).then(
      (post) =>
        change.mutate({
          post,
          change: { categoryId: category.id },
          words: `“${post.title}” is of ${category.name} from now on. What was sent stays counted as it was.`,
        }),
      (error) => trouble(wordsOf(error)),
    );
}
