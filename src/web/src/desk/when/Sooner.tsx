import { ChannelName } from '../../channels/channels';
import { type Post, type ScheduledPlace, useTake } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { useWorkspaceLink } from '../../workspaces/workspace';
import { atWords } from './useAct';

/** A scheduled place that comes before the post's own: it may take it. */
export function Sooner({ post, place }: { post: Pick<Post, 'id'>; place: ScheduledPlace }) {
  const take = useTake();
  const { rights } = useWorkspaceLink();
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 border-rule-strong border-l-2 pl-3" data-sooner>
      <p className="text-sm">
        A scheduled place comes sooner: {atWords(place.at)} <ChannelName id={place.channelId} />, with “{place.title}”.
      </p>
      {rights.includes('schedule') && (
        <Button
          disabled={take.isPending}
          title={`“${place.title}” goes to the front of its line`}
          onClick={() => take.mutate({ place, postId: post.id })}
        >
          Take that place
        </Button>
      )}
    </div>
  );
}
