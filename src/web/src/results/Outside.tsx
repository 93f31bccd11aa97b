import { Link } from 'react-router';
import { CategorySelect } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Empty, Fetched } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { type OutsidePost, useOutside, useOutsideActs } from './outside';
import { whole } from './words';

/** What people posted on the channels themselves: it counts once it has a category. */
export function Outside() {
  const outside = useOutside();
  return (
    <Fetched query={outside} what="what was posted there">
      {(all) =>
        all.length === 0 ? (
          <Empty title="Nothing was posted on the channels themselves">
            Each channel is looked at every hour. What somebody posts there without Able Lark stands here, and counts in
            results once you say of which category it is.
          </Empty>
        ) : (
          <>
            <p className="mb-3 max-w-[80ch] text-faded">
              Posted on the networks themselves, without Able Lark. The line-up keeps its distance from each of them; in
              results they count once you say of which category they are.
            </p>
            <ul className="list-none border-ink border-t-[1.5px]">
              {all.map((post) => (
                <Post key={post.id} post={post} />
              ))}
            </ul>
          </>
        )
      }
    </Fetched>
  );
}

/** How many still count nowhere. */
export const useUncounted = () =>
  (useOutside().data ?? []).filter((post) => post.deliveryId === null && !post.leftOut).length;

function Post({ post }: { post: OutsidePost }) {
  return (
    <li
      className="grid grid-cols-[minmax(0,1fr)_auto_15rem] items-center gap-x-6 border-rule border-b py-2.5"
      data-outside={post.id}
    >
      <div className={`min-w-0 ${post.leftOut ? 'text-faded' : ''}`}>
        <p className="line-clamp-2">{post.text || 'Without words'}</p>
        <p className="flex flex-wrap gap-x-3 text-faded text-sm">
          <span>
            {dayWords(post.date)}, {clock(post.time)}
          </span>
          <ChannelName id={post.channelId} />
          {post.media.length > 0 && <span>{post.media.length === 1 ? 'a file' : `${post.media.length} files`}</span>}
          {post.address && (
            <a href={post.address} target="_blank" rel="noreferrer" className="link">
              See it there
            </a>
          )}
        </p>
      </div>
      <p className="w-24 text-right">
        {post.engagements !== null && (
          <>
            <b className="block font-head">{whole(post.engagements)}</b>
            <span className="text-faded text-xs">engagements</span>
          </>
        )}
      </p>
      <Acts post={post} />
    </li>
  );
}

function Acts({ post }: { post: OutsidePost }) {
  const { to } = useWorkspacePath();
  const { count, leave } = useOutsideActs();
  if (post.deliveryId)
    return (
      <p className="text-sm">
        Counts as{' '}
        <Link to={to(`posts/${post.postId}`)} className="link">
          a post of the bank
        </Link>
        .
      </p>
    );
  if (post.leftOut)
    return (
      <p className="text-faded text-sm">
        Left out.{' '}
        <button type="button" className="link min-h-6" onClick={() => leave.mutate({ id: post.id, leftOut: false })}>
          Let it count
        </button>
      </p>
    );
  return (
    <div className="flex flex-col gap-1.5">
      {post.samePostId && (
        <Button disabled={count.isPending} onClick={() => count.mutate({ id: post.id, postId: post.samePostId })}>
          It is “{post.samePostTitle}”
        </Button>
      )}
      <CategorySelect
        aria-label="Of which category is it?"
        none="Of which category?"
        value=""
        onChange={(categoryId) => categoryId && count.mutate({ id: post.id, categoryId })}
      />
      <button
        type="button"
        className="link min-h-6 self-start text-sm"
        onClick={() => leave.mutate({ id: post.id, leftOut: true })}
      >
        It needn’t count
      </button>
    </div>
  );
}
