import { ChannelName } from '../../channels/channels';
import { failed } from '../../deliveries/states';
import { Answer } from '../../posts/Answer';
import { type Post, useFirstOut } from '../../posts/posts';
import { clock, dayWords } from '../../time/dates';
import { useWorkspaceLink } from '../../workspaces/workspace';
import { Sooner } from './Sooner';
import { StateLink } from './StateLink';
import { atWords } from './useAct';

/** When the post goes out, and when it went out. */
export function PlanSection({ post }: { post: Post }) {
  return (
    <section aria-label="Its times" className="border-rule border-t pt-4">
      <h2>Its times</h2>
      {post.stage === 'waitingForApproval' && <Waiting post={post} />}
      {post.stage === 'ready' && <FirstOut post={post} />}
      {post.deliveries.length === 0 ? (
        <p className="mt-2 text-faded">None of its own. In rotation, the rota gives it one when its turn comes.</p>
      ) : (
        <ul className="ruled mt-2">
          {post.deliveries.map((delivery) => (
            <li key={delivery.id} className="grid grid-cols-[9rem_1fr_7rem] items-baseline gap-3 py-1.5 text-sm">
              <span>
                {dayWords(delivery.date)}, <b className="font-head">{clock(delivery.time)}</b>
              </span>
              <span className="min-w-0">
                <ChannelName id={delivery.channelId} />
                {delivery.trouble && <span className="block text-bad">{delivery.trouble}</span>}
              </span>
              <span className={`text-right ${failed(delivery.state) ? 'font-semibold text-bad' : 'text-faded'}`}>
                <StateLink state={delivery.state} address={delivery.address} />
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The post keeps its places until somebody says yes to it. */
function Waiting({ post }: { post: Post }) {
  const { rights } = useWorkspaceLink();
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border-dawn border-l-4 bg-dawn-wash px-3 py-2">
      <p className="flex-1">It waits for approval. Without it in time its substitute goes out, or nothing.</p>
      {rights.includes('approve') && <Answer postId={post.id} version={post.version} />}
    </div>
  );
}

function FirstOut({ post }: { post: Post }) {
  const first = useFirstOut(post.id).data;
  if (!first) return null;
  return (
    <div className="mt-2">
      <p>
        <span className="text-faded">Goes out first: </span>
        {first.at && first.channelId ? (
          <>
            {atWords(first.at)} <ChannelName id={first.channelId} />
          </>
        ) : null}{' '}
        <span className="text-faded text-sm">{first.why}</span>
      </p>
      {first.sooner && <Sooner post={post} place={first.sooner} />}
    </div>
  );
}
