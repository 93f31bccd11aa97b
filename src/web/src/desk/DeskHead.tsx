import { Link, useNavigate } from 'react-router';
import { limits } from '../api/limits';
import { RemoveButton } from '../changes/RemoveButton';
import { type Post, useRemovePost } from '../posts/posts';
import { Button } from '../ui/Button';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Standing } from './keep/deskStore';
import type { Desk } from './keep/useDesk';
import { Presence } from './Presence';

/** Its title, how it stands, who else is here, and what is done with all of it. */
export function DeskHead({ desk, post, onHistory }: { desk: Desk; post: Post | null; onHistory: () => void }) {
  const { to } = useWorkspacePath();
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <Link to={to('bank')} className="link text-sm">
        ← Bank
      </Link>
      <input
        aria-label="Title, never sent"
        placeholder="Title, never sent"
        className="field !w-auto !bg-transparent !text-[1.25rem] min-w-0 flex-1 font-head font-semibold max-sm:basis-full"
        {...limits.PostEdit.title}
        value={desk.edit.title}
        onChange={(e) => desk.change({ title: e.target.value })}
      />
      <Presence postId={desk.id} isWriting={desk.standing.kind === 'typing'} />
      <StandingWords standing={desk.standing} isNew={post === null} />
      {post && (
        <>
          <Button variant="quiet" onClick={onHistory}>
            Versions
          </Button>
          <RemovePost post={post} />
        </>
      )}
    </div>
  );
}

/** What a person has to decide or to know before writing on. */
export function Alerts({
  desk: { standing, ...desk },
  post,
  namesOf,
}: {
  desk: Desk;
  post: Post | null;
  namesOf: (networks: readonly string[]) => string[];
}) {
  return (
    <>
      {standing.kind === 'conflict' && (
        <div role="alert" className="flex flex-wrap items-center gap-3 border-bad border-l-4 bg-bad-wash px-4 py-3">
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
        <div role="alert" className="flex flex-wrap items-center gap-3 border-dawn border-l-4 bg-dawn-wash px-4 py-3">
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
        <p className="border-dawn border-l-4 bg-dawn-wash px-4 py-3" data-sent-back>
          <b>Sent back:</b> {post.sentBack}
        </p>
      )}
    </>
  );
}

const approvalWords = (names: readonly string[]) =>
  `Saving this withdraws the approval for ${new Intl.ListFormat('en-GB').format(names)}: it waits there until somebody approves it again.`;

function StandingWords({ standing, isNew }: { standing: Standing; isNew: boolean }) {
  const words = {
    saved: isNew ? 'Saves itself as you write' : 'Saved',
    typing: 'Typing …',
    saving: 'Saving …',
    failed: standing.kind === 'failed' ? `Not saved. ${standing.words}` : '',
    conflict: 'Not saved: two versions',
    asks: 'Not saved yet',
    uncategorised: 'Kept here until it has a category',
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
      id={post.id}
      remove={remove}
      words={({ cancelled }) => `“${post.title}” is out of the bank.${cancelledWords(cancelled)}`}
      onDone={() => navigate(to('bank'))}
    />
  );
}

const cancelledWords = (n: number) =>
  n === 0 ? '' : ` ${n} planned ${n === 1 ? 'delivery is' : 'deliveries are'} cancelled.`;
