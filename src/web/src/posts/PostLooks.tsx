import { useState } from 'react';
import { useCategory } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { NetworkMark, useNetworks } from '../networks/networks';
import { Fetched } from '../ui/States';
import { Preview } from './Preview';
import { checkOf, type Post, usePost } from './posts';

/** How a post will look where it goes, one network at a time: for whoever is to say yes to it. */
export function PostLooks({ postId }: { postId: string }) {
  const post = usePost(postId);
  return (
    <Fetched query={post} what="the post">
      {(data) => <Shown post={data} />}
    </Fetched>
  );
}

function Shown({ post }: { post: Post }) {
  const channels = useChannels().data ?? [];
  const networks = useNetworks().data ?? [];
  const usual = useCategory(post.categoryId)?.usualChannels ?? [];
  const [chosen, setChosen] = useState<string | null>(null);
  const goals = channels.filter((c) => (post.channels ?? usual).includes(c.id));
  // Channels that get the same are one.
  const looks = [...Map.groupBy(goals, (c) => checkOf(post.checks, c))].flatMap(([check, of]) => {
    const first = of[0];
    return check && first ? [{ check, channel: first, more: of.length - 1 }] : [];
  });
  const look = looks.find((l) => l.channel.id === chosen) ?? looks[0];
  if (!look) return <p className="text-faded text-sm">It goes to no channel as it is.</p>;
  const others = post.content.wordings.length;
  return (
    <div data-looks={post.id}>
      {looks.length > 1 && (
        <fieldset className="mb-2 flex flex-wrap gap-1">
          <legend className="sr-only">As it will look on</legend>
          {looks.map(({ channel, more }) => (
            <button
              key={channel.id}
              type="button"
              aria-pressed={channel.id === look.channel.id}
              onClick={() => setChosen(channel.id)}
              className="inline-flex min-h-6 items-center gap-1.5 rounded-md border-[1.5px] border-transparent px-2 text-faded text-sm hover:bg-wash aria-pressed:border-ink aria-pressed:bg-leaf aria-pressed:text-ink"
            >
              <NetworkMark network={channel.network} size={14} />
              {networks.find((n) => n.key === channel.network)?.name ?? channel.network}
              {more > 0 && <span className="text-faded">+{more}</span>}
            </button>
          ))}
        </fieldset>
      )}
      <div className="max-w-[22rem]">
        <Preview check={look.check} by={look.channel.name} />
      </div>
      {others > 0 && (
        <p className="mt-1 text-faded text-sm">
          And {others === 1 ? 'another wording' : `${others} other wordings`}, on its desk.
        </p>
      )}
    </div>
  );
}
