import { useCallback, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { type Category, useCategories, useCategory } from '../categories/categories';
import { RemoveButton } from '../changes/RemoveButton';
import { useChannels } from '../channels/channels';
import { type Network, useNetworks } from '../networks/networks';
import { Button } from '../ui/Button';
import { Empty, Fetched } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { CommonColumn } from './CommonColumn';
import { noLayers, withNetwork } from './content';
import { PlanSection } from './PlanSection';
import { editOf, type Post, type PostEdit, usePost, useRemovePost } from './posts';
import { type Standing, useDesk } from './useDesk';
import { VariantColumn } from './VariantColumn';

/** One post in full: common content on the left, each network's variant beside it. */
export function PostDesk() {
  const { id = 'new' } = useParams();
  const { to } = useWorkspacePath();
  const [created, setCreated] = useState<string | null>(null);
  const navigate = useNavigate();
  const post = usePost(id === 'new' ? null : id);
  const categories = useCategories();
  const [search] = useSearchParams();
  const onCreated = useCallback(
    (newId: string) => {
      setCreated(newId);
      navigate(to(`posts/${newId}`), { replace: true });
    },
    [navigate, to],
  );

  if (id === 'new' || id === created)
    return (
      <Fetched query={categories} what="the categories">
        {(list) => {
          const first = list.find((c) => c.id === search.get('category')) ?? list[0];
          return first ? (
            <Desk key="new" post={post.data ?? null} blank={blankEdit(first)} onCreated={onCreated} />
          ) : (
            <NoCategories />
          );
        }}
      </Fetched>
    );
  return (
    <Fetched query={post} what="the post">
      {(data) => <Desk key={data.id} post={data} blank={editOf(data)} onCreated={onCreated} />}
    </Fetched>
  );
}

/** A new post begins as its category says. */
const blankEdit = (category: Category): PostEdit => ({
  title: '',
  categoryId: category.id,
  stage: 'draft',
  lifespan: category.lifespan,
  inRotation: category.newPostsRotate,
  channels: null,
  furtherCategories: [],
  from: null,
  to: null,
  gapDays: null,
  content: { ...noLayers, common: { text: category.hashtags.map((h) => `#${h}`).join(' ') }, wordings: [] },
});

function NoCategories() {
  const { to } = useWorkspacePath();
  return (
    <Empty
      title="A post needs a category first"
      act={
        <Link to={to('set-up')} className="link">
          Name the first category in Set-up
        </Link>
      }
    >
      Categories are the handful of kinds of post that serve your plan. The rota draws by them, and the results compare
      them.
    </Empty>
  );
}

interface DeskProps {
  post: Post | null;
  blank: PostEdit;
  onCreated: (id: string) => void;
}

function Desk({ post, blank, onCreated }: DeskProps) {
  const { to } = useWorkspacePath();
  const { edit, change, standing, checks, ...desk } = useDesk(post, blank, onCreated);
  const networks = useNetworks();
  const used = useUsedNetworks(edit);
  // Those that it goes to; the others only where it goes to none of them.
  const namesOf = (keys: readonly string[]) => {
    const concerned = keys.some((key) => used.has(key)) ? keys.filter((key) => used.has(key)) : keys;
    return concerned.map((key) => networks.data?.find((n) => n.key === key)?.name ?? key);
  };
  const column = (network: Network) => (
    <VariantColumn
      key={network.key}
      network={network}
      content={edit.content}
      check={checks.find((c) => c.network === network.key && c.channelId === null)}
      onChange={(values) => change({ content: withNetwork(edit.content, network.key, values) })}
    />
  );

  return (
    <>
      <div className="mb-4 flex items-center gap-4">
        <Link to={to('bank')} className="link text-sm">
          ← Bank
        </Link>
        <StandingWords standing={standing} isNew={post === null} />
        {post && <RemovePost post={post} />}
      </div>
      {standing.kind === 'conflict' && (
        <div role="alert" className="mb-4 flex items-center gap-3 border-bad border-l-4 bg-bad-wash px-4 py-3">
          <p className="flex-1">
            Somebody else saved another version of this post meanwhile. What you typed is still here: keep yours, or
            take theirs.
          </p>
          <Button variant="primary" onClick={desk.keepMine}>
            Keep mine
          </Button>
          <Button onClick={desk.takeTheirs}>Take theirs</Button>
        </div>
      )}
      {standing.kind === 'asks' && (
        <div role="alert" className="mb-4 flex items-center gap-3 border-dawn border-l-4 bg-dawn-wash px-4 py-3">
          <p className="flex-1">
            {approvalWords(namesOf(standing.networks))} What you typed is kept on this machine until then.
          </p>
          <Button variant="primary" onClick={desk.saveAllTheSame}>
            Save, and ask again
          </Button>
          <Button onClick={desk.leaveContent}>Leave it as it was</Button>
        </div>
      )}
      {post?.sentBack && (
        <p className="mb-4 border-dawn border-l-4 bg-dawn-wash px-4 py-3" data-sent-back>
          <b>Sent back:</b> {post.sentBack} <span className="text-faded">Mark it as ready when that is done.</span>
        </p>
      )}
      <div className="grid grid-cols-[minmax(20rem,25rem)_1fr] gap-10">
        <CommonColumn
          edit={edit}
          change={change}
          checks={checks.filter((c) => used.has(c.network))}
          networks={networks.data?.filter((n) => used.has(n.key)) ?? []}
        />
        <div className="flex flex-col gap-6">
          <div className="grid grid-cols-[repeat(auto-fit,minmax(17rem,1fr))] gap-8">
            {networks.data?.filter((n) => used.has(n.key)).map(column)}
          </div>
          {networks.data
            ?.filter((n) => !used.has(n.key))
            .map((network) => (
              <details key={network.key} className="border-rule border-t pt-2">
                <summary className="cursor-pointer text-faded">
                  {network.name}: goes to none of its channels. Write for it all the same
                </summary>
                <div className="mt-3 max-w-md">{column(network)}</div>
              </details>
            ))}
          {post && <PlanSection post={post} ready={post.stage === 'ready'} />}
        </div>
      </div>
    </>
  );
}

const approvalWords = (names: readonly string[]) =>
  `Saving this withdraws the approval for ${new Intl.ListFormat('en-GB').format(names)}: it waits there until somebody approves it again.`;

/** Networks of the channels that the post goes to. */
function useUsedNetworks(edit: PostEdit): Set<string> {
  const channels = useChannels();
  const category = useCategory(edit.categoryId);
  const wanted = edit.channels ?? category?.usualChannels ?? [];
  return new Set((channels.data ?? []).filter((c) => wanted.includes(c.id)).map((c) => c.network));
}

function StandingWords({ standing, isNew }: { standing: Standing; isNew: boolean }) {
  const words = {
    saved: isNew ? 'A new post: it is saved by itself as you write.' : 'Saved',
    typing: 'Typing …',
    saving: 'Saving …',
    failed: standing.kind === 'failed' ? `Not saved. ${standing.words}` : '',
    conflict: 'Not saved: two versions',
    asks: 'Not saved yet',
  }[standing.kind];
  return (
    <p
      role="status"
      data-standing={standing.kind}
      className={`text-sm ${standing.kind === 'failed' ? 'text-bad' : 'text-faded'}`}
    >
      {words}
    </p>
  );
}

function RemovePost({ post }: { post: Post }) {
  const { to } = useWorkspacePath();
  const navigate = useNavigate();
  const remove = useRemovePost();
  return (
    <RemoveButton
      label="Remove the post"
      variant="quiet"
      className="ml-auto"
      id={post.id}
      remove={remove}
      words={({ cancelled }) => `“${post.title}” is out of the bank.${cancelledWords(cancelled)}`}
      onDone={() => navigate(to('bank'))}
    />
  );
}

const cancelledWords = (n: number) =>
  n === 0 ? '' : ` ${n} planned ${n === 1 ? 'delivery is' : 'deliveries are'} cancelled.`;
