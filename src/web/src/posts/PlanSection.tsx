import { useState } from 'react';
import { ChannelChoice, ChannelName } from '../channels/channels';
import { failed, stateWord } from '../deliveries/states';
import { WhenForm } from '../deliveries/WhenForm';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { useWorkspace } from '../workspaces/workspace';
import { Answer } from './Answer';
import { Booking, Sooner, When } from './Booking';
import { type Post, useFirstOut, useGiveTime } from './posts';

/** When the post goes out, went out, and giving it an exact time. */
export function PlanSection({ post, ready }: { post: Post; ready: boolean }) {
  const [open, setOpen] = useState<'time' | 'place' | null>(null);
  const hint = ready ? undefined : 'Mark the post as ready first';
  return (
    <section aria-label="When it goes out" className="border-rule border-t pt-4">
      <div className="flex items-center gap-4">
        <h2>When it goes out</h2>
        {!open && (
          <>
            <Button disabled={!ready} title={hint} onClick={() => setOpen('place')}>
              Book a place
            </Button>
            <Button disabled={!ready} title={hint} onClick={() => setOpen('time')}>
              Set date and time
            </Button>
          </>
        )}
      </div>
      {open === 'time' && <ExactTime post={post} onDone={() => setOpen(null)} />}
      {open === 'place' && <Booking post={post} onDone={() => setOpen(null)} />}
      {post.stage === 'waitingForApproval' && <Waiting post={post} />}
      {ready && open !== 'place' && <FirstOut post={post} />}
      {post.deliveries.length === 0 ? (
        <p className="mt-2 text-faded">No time yet. The rota schedules one when its turn comes.</p>
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
                {delivery.address ? (
                  <a className="link" href={delivery.address} target="_blank" rel="noreferrer">
                    {stateWord(delivery.state)}
                  </a>
                ) : (
                  stateWord(delivery.state)
                )}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function ExactTime({ post, onDone }: { post: Post; onDone: () => void }) {
  const give = useGiveTime();
  const today = useWorkspace().data?.today;
  const [channels, setChannels] = useState<readonly string[]>([]);
  if (!today) return null;
  return (
    <div className="my-3 flex max-w-md flex-col gap-3 border-dawn border-l-2 pl-4">
      <ChannelChoice
        label="Only to these (none ticked: to all of its channels)"
        value={channels}
        onChange={setChannels}
      />
      <WhenForm
        today={today}
        date={addDays(today, 1)}
        time="09:00"
        act="Set date and time"
        busy={give.isPending}
        error={give.error}
        onSubmit={(when) => give.mutate({ postId: post.id, ...when, channels: [...channels] }, { onSuccess: onDone })}
      />
      <Button variant="quiet" className="self-start" onClick={onDone}>
        Leave it
      </Button>
    </div>
  );
}

/** The post keeps its places until somebody says yes to it. */
function Waiting({ post }: { post: Post }) {
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border-dawn border-l-4 bg-dawn-wash px-3 py-2">
      <p className="flex-1">It waits for approval. Without it in time its substitute goes out, or nothing.</p>
      <Answer postId={post.id} version={post.version} />
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
            <When at={first.at} /> <ChannelName id={first.channelId} />
          </>
        ) : null}{' '}
        <span className="text-faded text-sm">{first.why}</span>
      </p>
      {first.sooner && <Sooner post={post} place={first.sooner} />}
    </div>
  );
}
