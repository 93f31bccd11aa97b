import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { CategoryName, CategorySelect } from '../categories/categories';
import { ChannelName, useChannel } from '../channels/channels';
import { AttemptList } from '../deliveries/AttemptList';
import { useDelivery, useDeliveryActs } from '../deliveries/deliveries';
import { FoundForm } from '../deliveries/FoundForm';
import { PostedForm } from '../deliveries/PostedForm';
import { entryWord, failed } from '../deliveries/states';
import { TakeDownPart } from '../deliveries/TakeDownPart';
import { WhenForm } from '../deliveries/WhenForm';
import { TiePart } from '../keydates/TiePart';
import { PostLook, Preview } from '../posts/Preview';
import { checkOf, type Post, useCheck, usePost } from '../posts/posts';
import { EnterFigures } from '../results/EnterFigures';
import { FigureList } from '../results/FigureList';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { Sheet } from '../ui/Sheet';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { CardPart } from './CardPart';
import { cardKey } from './cards';
import type { Entry } from './lineup';
import { canMove } from './moving';
import { PlacePart } from './PlacePart';

interface Props {
  /** All that is shown. */
  entries: readonly Entry[];
  /** Key of the one that is open. */
  chosen: string | null;
  onChoose: (key: string) => void;
  onClose: () => void;
}

/** One entry beside the calendar: what, when, where, why, and what can be done about it, on its channel or on all of them. */
export function EntrySheet({ entries, chosen, onChoose, onClose }: Props) {
  const entry = entries.find((e) => e.key === chosen);
  const siblings = entry ? entries.filter((e) => cardKey(e) === cardKey(entry)) : [];
  return (
    <Sheet open={entry !== undefined} title={entry?.title ?? 'Nothing to send'} onClose={onClose}>
      {entry && siblings.length > 1 && (
        <CardPart key={`of ${cardKey(entry)}`} entry={entry} siblings={siblings} onChoose={onChoose} />
      )}
      {entry && <Details key={entry.key} entry={entry} />}
    </Sheet>
  );
}

function Details({ entry }: { entry: Entry }) {
  const { to } = useWorkspacePath();
  const trouble = failed(entry.state) && !entry.dealtWith;
  return (
    <div className="flex flex-col gap-4">
      <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1.5">
        <dt className="text-faded">When</dt>
        <dd>
          {dayWords(entry.date)}, <b className="font-head">{clock(entry.time)}</b>
        </dd>
        <dt className="text-faded">Channel</dt>
        <dd>
          <ChannelName id={entry.channelId} />
        </dd>
        <dt className="text-faded">Category</dt>
        <dd>
          <CategoryName id={entry.categoryId} />
        </dd>
        <dt className="text-faded">State</dt>
        <dd className={trouble ? 'font-semibold text-bad' : ''}>{entryWord(entry)}</dd>
      </dl>
      {entry.trouble && <p className="border-bad border-l-4 bg-bad-wash px-3 py-2">{entry.trouble}</p>}
      <div>
        <h3>Why this</h3>
        <p className="mt-1 text-faded">{entry.why}</p>
      </div>
      <div className="flex flex-wrap gap-2">
        {entry.postId && (
          <Link to={to(`posts/${entry.postId}`)} className="link self-center">
            Open the post
          </Link>
        )}
        {entry.kind === 'empty' && (
          <Link
            to={to(`posts/new${entry.categoryId ? `?category=${entry.categoryId}` : ''}`)}
            className="link self-center"
          >
            Write a post for it
          </Link>
        )}
        {entry.address && !entry.isTakenDown && (
          <a href={entry.address} target="_blank" rel="noreferrer" className="link self-center">
            See it on the network
          </a>
        )}
      </div>
      {entry.deliveryId && <DeliveryPart entry={entry} deliveryId={entry.deliveryId} />}
      {!entry.deliveryId && entry.postId && <ProjectedLook postId={entry.postId} channelId={entry.channelId} />}
      {!entry.deliveryId && entry.origin.kind === 'place' && <PlacePart entry={entry} />}
    </div>
  );
}

const lookWords = ({ state }: Entry) =>
  state === 'sent' ? 'As it looked' : failed(state) ? 'As it was to look' : 'As it will look';

/** As things stand: the rota may send another post by then. */
function ProjectedLook({ postId, channelId }: { postId: string; channelId: string }) {
  const post = usePost(postId).data;
  return post ? <LookOn post={post} channelId={channelId} /> : null;
}

function LookOn({ post, channelId }: { post: Post; channelId: string }) {
  const channel = useChannel(channelId);
  const checks = useCheck(post.content, post).data;
  const check = channel && checkOf(checks ?? [], channel);
  if (!check) return null;
  return (
    <section>
      <h3 className="mb-2">As it would look</h3>
      <Preview check={check} by={channel?.name} />
    </section>
  );
}

function DeliveryPart({ entry, deliveryId }: { entry: Entry; deliveryId: string }) {
  const channel = useChannel(entry.channelId);
  const delivery = useDelivery(deliveryId);
  return (
    <>
      {canMove(entry) && !failed(entry.state) && <TiePart deliveryId={deliveryId} date={entry.date} />}
      {canMove(entry) && <Move entry={entry} deliveryId={deliveryId} />}
      {entry.may.includes('sayWhatWasFound') && (
        <section className="border-rule border-t pt-4">
          <h3 className="mb-2">Look on the network: is it there?</h3>
          <FoundForm deliveryId={deliveryId} revision={entry.revision} />
        </section>
      )}
      {entry.may.includes('sayPosted') && (
        <section className="border-rule border-t pt-4">
          <h3 className="mb-2">Post it yourself</h3>
          <PostedForm deliveryId={deliveryId} revision={entry.revision} />
        </section>
      )}
      {delivery.data?.look && (
        <section>
          <h3 className="mb-2">{lookWords(entry)}</h3>
          <PostLook network={channel?.network ?? ''} by={channel?.name} fields={delivery.data.look.fields} />
        </section>
      )}
      {entry.may.includes('countUnder') && delivery.data?.facts && (
        <CountsUnder deliveryId={deliveryId} revision={delivery.data.revision} facts={delivery.data.facts} />
      )}
      {(entry.may.includes('takeDown') || entry.may.includes('sendCorrected')) && (
        <TakeDownPart deliveryId={deliveryId} />
      )}
      {delivery.data && <AttemptList attempts={delivery.data.attempts} />}
      {delivery.data?.figures && <FigureList figures={delivery.data.figures} at={delivery.data.figuresAt} />}
      {delivery.data?.state === 'sent' && entry.may.includes('countUnder') && (
        <EnterFigures id={deliveryId} known={delivery.data.figures} />
      )}
    </>
  );
}

/** The category that a sent delivery counts under in Results: the one that its post had when it was sent, until a person says otherwise. */
function CountsUnder({
  deliveryId,
  revision,
  facts,
}: {
  deliveryId: string;
  revision: number;
  facts: Schemas['SentFacts'];
}) {
  const { countUnder } = useDeliveryActs(deliveryId, revision);
  return (
    <Field
      label="Counts in Results under"
      hint={facts.isReconstructed ? 'Sent before this was kept: its post’s category as it was later.' : undefined}
    >
      {(id) => <CategorySelect id={id} value={facts.categoryId} onChange={(category) => countUnder.mutate(category)} />}
    </Field>
  );
}

function Move({ entry, deliveryId }: { entry: Entry; deliveryId: string }) {
  const { reschedule, cancel } = useDeliveryActs(deliveryId, entry.revision);
  const [open, setOpen] = useState(false);
  const today = useWorkspace().data?.today;
  const trouble = entry.may.includes('reschedule');
  return (
    <section className="border-rule border-t pt-4">
      {open && today ? (
        <WhenForm
          today={today}
          date={entry.date > today ? entry.date : addDays(today, 1)}
          time={clock(entry.time)}
          act="Set date and time"
          busy={reschedule.isPending}
          error={reschedule.error}
          channels={[entry.channelId]}
          onSubmit={(when) => reschedule.mutate(when, { onSuccess: () => setOpen(false) })}
        />
      ) : (
        <div className="flex flex-wrap gap-2">
          <Button variant={trouble ? 'primary' : 'plain'} onClick={() => setOpen(true)}>
            {trouble ? 'Reschedule' : 'Move to another time'}
          </Button>
          {entry.may.includes('dismiss') && <Dismiss deliveryId={deliveryId} revision={entry.revision} />}
          {entry.may.includes('cancel') && (
            <Button disabled={cancel.isPending} onClick={() => cancel.mutate()}>
              Cancel it
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

function Dismiss({ deliveryId, revision }: { deliveryId: string; revision: number | null | undefined }) {
  const { dismiss } = useDeliveryActs(deliveryId, revision);
  return (
    <Button disabled={dismiss.isPending} onClick={() => dismiss.mutate('failure')}>
      Dismiss
    </Button>
  );
}
