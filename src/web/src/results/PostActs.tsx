import { useNavigate } from 'react-router';
import { useChangePost, usePost } from '../posts/posts';
import { Menu, MenuItem } from '../ui/Menu';
import { useWorkspacePath } from '../workspaces/workspace';

/** What one does with a post on account of what it earned, where the figure stands. */
export function PostActs({ id, title }: { id: string; title: string }) {
  const { to } = useWorkspacePath();
  const navigate = useNavigate();
  return (
    <Menu label={`${title}:`} trigger="Act on it ▾">
      <MenuItem onSelect={() => navigate(to(`posts/new?copy=${id}`))}>Write one like it</MenuItem>
      <Changes id={id} title={title} />
    </Menu>
  );
}

/** Asked for only when the menu is open. */
function Changes({ id, title }: { id: string; title: string }) {
  const post = usePost(id).data;
  const change = useChangePost();
  if (!post) return null;
  return (
    <>
      {post.lifespan !== 'evergreen' && (
        <MenuItem
          onSelect={() =>
            change.mutate({ post, change: { lifespan: 'evergreen' }, words: `“${title}” may come round again.` })
          }
        >
          Make it evergreen
        </MenuItem>
      )}
      <MenuItem
        onSelect={() =>
          change.mutate({
            post,
            change: { inRotation: !post.inRotation },
            words: post.inRotation
              ? `“${title}” stays out of the rotation, until its desk lets it in again.`
              : `“${title}” is in the rotation again.`,
          })
        }
      >
        {post.inRotation ? 'Leave it out' : 'Take it into the rotation'}
      </MenuItem>
    </>
  );
}
