import { useState } from 'react';
import { Link } from 'react-router';
import { ChannelName, useChannels } from '../channels/channels';
import { useDeliveryActs } from '../deliveries/deliveries';
import { FoundForm } from '../deliveries/FoundForm';
import { type Need, useNeeds } from '../deliveries/needs';
import { PostedForm } from '../deliveries/PostedForm';
import { RestForm } from '../deliveries/RestForm';
import { stateWord } from '../deliveries/states';
import { WhenForm } from '../deliveries/WhenForm';
import { KeyDateNotes } from '../keydates/KeyDateNotes';
import { EntrySheet } from '../lineup/EntrySheet';
import { LineUpList } from '../lineup/LineUpList';
import { useLineUp } from '../lineup/lineup';
import { Answer } from '../posts/Answer';
import { PostLooks } from '../posts/PostLooks';
import { type PostLine, usePosts } from '../posts/posts';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Empty, Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { Damaged } from './Damaged';
import { FirstSteps, useFirstSteps } from './FirstSteps';
import { Passed } from './Passed';
import { PutAside } from './PutAside';
import { RunwayNotes } from './RunwayNotes';

/** What needs a person, each with the act that schedules it; then what goes out today and tomorrow. */
export function Today() {
  const needs = useNeeds();
  const steps = useFirstSteps();
  return (
    <div
      data-small
      className="grid grid-cols-[minmax(0,1fr)] gap-12 min-[1000px]:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]"
    >
      <section>
        <h1 className="mb-3">What needs you</h1>
        <Connections />
        <PutAside />
        <Damaged />
        <KeyDateNotes />
        <Waiting />
        <Fetched query={needs} what="what needs you">
          {(list) =>
            list.length === 0 && steps ? (
              <FirstSteps steps={steps} />
            ) : list.length === 0 ? (
              <Empty title="Nothing failed and nothing was missed">
                Whatever goes wrong with a sending is listed here.
              </Empty>
            ) : (
              <ul className="border-ink border-t-[1.5px]">
                {list.map((need) => (
                  <NeedLine key={need.deliveryId} need={need} />
                ))}
              </ul>
            )
          }
        </Fetched>
        <div className="mt-6">
          <Passed />
          <RunwayNotes />
        </div>
      </section>
      <NextUp />
    </div>
  );
}

export function Connections() {
  const { to } = useWorkspacePath();
  const channels = useChannels();
  const lost = channels.data?.filter((c) => c.connection === 'needsReconnection') ?? [];
  return lost.map((channel) => (
    <p key={channel.id} role="alert" className="mb-3 border-bad border-l-4 bg-bad-wash px-3 py-2">
      <ChannelName id={channel.id} className="font-medium" /> is no longer connected. {channel.connectionTrouble}{' '}
      <Link className="link" to={to('set-up')}>
        Connect it again
      </Link>
    </p>
  ));
}

/** Posts that keep a place and wait for approval, and posts that were sent back. */
export function Waiting() {
  const [all, setAll] = useState(false);
  const awaiting = usePosts({ category: '', stage: 'waitingForApproval', search: '' }).data?.posts ?? [];
  const sentBack = usePosts({ category: '', stage: '', search: '', sentBack: true }).data?.posts ?? [];
  if (awaiting.length + sentBack.length === 0) return null;
  return (
    <ul className="ruled mb-4 border-ink border-t-[1.5px]">
      {awaiting.slice(0, all ? awaiting.length : most).map((post, i) => (
        <li key={post.id} className="py-2" data-waiting={post.id}>
          <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
            <Named post={post} word="waiting for approval" />
            <Answer postId={post.id} version={post.version} />
          </div>
          <AsItWillLook postId={post.id} isOpen={i === 0} />
        </li>
      ))}
      {!all && awaiting.length > most && (
        <li className="py-2">
          <Button onClick={() => setAll(true)}>Show {awaiting.length - most} more that wait</Button>
        </li>
      )}
      {sentBack.slice(0, most).map((post) => (
        <li key={post.id} className="py-2" data-sent-back={post.id}>
          <Named post={post} word="sent back" />
          <p className="mt-0.5">{post.sentBack}</p>
        </li>
      ))}
    </ul>
  );
}

/** Nobody says yes to what they haven't seen: the first is open, the others are one press away. */
function AsItWillLook({ postId, isOpen }: { postId: string; isOpen: boolean }) {
  const [open, setOpen] = useState(isOpen);
  return (
    <details className="mt-1" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-faded text-sm">As it will look</summary>
      <div className="mt-2">{open && <PostLooks postId={postId} />}</div>
    </details>
  );
}

/** Shown of each sort at once. */
const most = 8;

function Named({ post, word }: { post: PostLine; word: string }) {
  const { to } = useWorkspacePath();
  return (
    <span className="flex-1">
      <span className="text-dawn">{word}</span>{' '}
      <Link className="link font-medium" to={to(`posts/${post.id}`)}>
        {post.title}
      </Link>
    </span>
  );
}

export function NeedLine({ need }: { need: Need }) {
  const { to } = useWorkspacePath();
  const { reschedule, dismiss } = useDeliveryActs(need.deliveryId, need.revision);
  const [open, setOpen] = useState(false);
  const today = useWorkspace().data?.today;
  return (
    <li className="border-rule border-b py-3" data-need={need.deliveryId}>
      <p className="flex items-baseline gap-2">
        <span className={`font-semibold ${need.state === 'postItYourself' ? 'text-dawn' : 'text-bad'}`}>
          {need.state === 'sent' ? 'not all of it sent' : stateWord(need.state)}
        </span>
        <Link to={to(`posts/${need.postId}`)} className="link font-medium">
          {need.title}
        </Link>
      </p>
      <p className="flex items-center gap-2 text-faded text-sm">
        {dayWords(need.date)}, {clock(need.time)} <ChannelName id={need.channelId} />
      </p>
      <p className="mt-1">{need.trouble}</p>
      <div className="mt-2">
        {need.state === 'postItYourself' ? (
          <details>
            <summary className="cursor-pointer font-medium">Text, files, and what became of it</summary>
            <div className="mt-2">
              <PostedForm deliveryId={need.deliveryId} revision={need.revision} />
            </div>
          </details>
        ) : need.state === 'sent' ? (
          <RestForm deliveryId={need.deliveryId} revision={need.revision} />
        ) : need.state === 'mayHaveGoneOut' ? (
          <FoundForm deliveryId={need.deliveryId} revision={need.revision} />
        ) : open && today ? (
          <WhenForm
            today={today}
            date={addDays(today, 1)}
            time={clock(need.time)}
            act="Set date and time"
            busy={reschedule.isPending}
            error={reschedule.error}
            channels={[need.channelId]}
            onSubmit={(when) => reschedule.mutate(when)}
          />
        ) : (
          <div className="flex gap-2">
            <Button onClick={() => setOpen(true)}>Reschedule</Button>
            <Button variant="quiet" disabled={dismiss.isPending} onClick={() => dismiss.mutate('failure')}>
              Dismiss
            </Button>
          </div>
        )}
      </div>
    </li>
  );
}

function NextUp() {
  const today = useWorkspace().data?.today ?? null;
  const lineUp = useLineUp(today, today && addDays(today, 1));
  const [chosen, setChosen] = useState<string | null>(null);
  const { to } = useWorkspacePath();
  return (
    <section>
      <h1 className="mb-3">Today and tomorrow</h1>
      <Fetched query={lineUp} what="the line-up">
        {({ entries }) =>
          entries.length === 0 ? (
            <Empty
              title="Nothing goes out today or tomorrow"
              act={
                <Link className="link" to={to('rota')}>
                  Lay out the recurring week
                </Link>
              }
            />
          ) : (
            <>
              <LineUpList entries={entries} chosen={chosen} onChoose={setChosen} />
              <EntrySheet entries={entries} chosen={chosen} onChoose={setChosen} onClose={() => setChosen(null)} />
            </>
          )
        }
      </Fetched>
    </section>
  );
}
