import { useState } from 'react';
import { Link } from 'react-router';
import { ChannelName } from '../channels/channels';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { TimeField } from '../ui/TimeField';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { comingKey, type FollowResult, type KeyDate, useFollowPreview, useKeyDateActs } from './keyDates';

const sides = [
  { value: 'before', label: 'Before' },
  { value: 'after', label: 'After' },
] as const;

/** A post that stands relative to it is begun at the desk, so many days before or after. */
export function BeginPart({ keyDate }: { keyDate: KeyDate }) {
  const { to } = useWorkspacePath();
  const today = useWorkspace().data?.today;
  const [days, setDays] = useState(3);
  const [side, setSide] = useState<'before' | 'after'>('before');
  const [time, setTime] = useState('09:30');
  if (!today) return null;
  const date = addDays(keyDate.date, side === 'before' ? -days : days);
  const query = new URLSearchParams({ date, time, keyDate: comingKey(keyDate) });
  return (
    <section className="border-rule border-t pt-3">
      <h3 className="mb-1">Posts relative to it</h3>
      <p className="text-faded text-sm">
        {keyDate.tied === 0
          ? 'None yet.'
          : keyDate.tied === 1
            ? 'One delivery to come.'
            : `${keyDate.tied} deliveries to come.`}
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <Field label="Days">
          {(id) => (
            <input
              id={id}
              type="number"
              className="field !w-16"
              min={0}
              max={366}
              value={days}
              onChange={(event) => setDays(Math.min(366, Math.max(0, Math.round(Number(event.target.value) || 0))))}
            />
          )}
        </Field>
        <Choice label="Before it or after it" value={side} options={sides} onChange={setSide} />
        <Field label="Time">{(id) => <TimeField id={id} value={time} onChange={setTime} />}</Field>
        {date >= today ? (
          <Link className="link pb-1" to={to(`posts/new?${query}`)}>
            Write one for {dayWords(date)}
          </Link>
        ) : (
          <span className="pb-1 text-faded">{dayWords(date)} has passed.</span>
        )}
      </div>
    </section>
  );
}

/** What hasn't followed a key date that moved: what would move, what wouldn't, and the choice. */
export function FollowPart({ id, isGone }: { id: string; isGone: boolean }) {
  const preview = useFollowPreview(id, true);
  const { follow } = useKeyDateActs();
  const result = preview.data;
  if (!result || result.moves.length + result.stays.length === 0) return null;
  return (
    <section data-follow className="border-dawn border-l-4 bg-dawn-wash px-3 py-2">
      <h3>
        {isGone
          ? 'Its calendar no longer has it. These stand where it was'
          : 'It has moved, and these haven’t followed'}
      </h3>
      <FormError error={follow.error} />
      <div className="mt-2 flex flex-wrap gap-2">
        {result.moves.length > 0 && (
          <Button
            variant="primary"
            disabled={follow.isPending}
            onClick={() => follow.mutate({ keyDate: id, stay: false })}
          >
            Move {result.moves.length === 1 ? 'it' : `the ${result.moves.length}`} along
          </Button>
        )}
        <Button disabled={follow.isPending} onClick={() => follow.mutate({ keyDate: id, stay: true })}>
          Leave {result.moves.length + result.stays.length === 1 ? 'it where it is' : 'them where they are'}
        </Button>
      </div>
      <FollowList result={result} />
    </section>
  );
}

/** A day, and the way to it. */
function DayLink({ date }: { date: string }) {
  const { to } = useWorkspacePath();
  return (
    <Link className="link" to={to(`calendar?view=day&on=${date}`)}>
      {dayWords(date)}
    </Link>
  );
}

function FollowList({ result }: { result: FollowResult }) {
  return (
    <ul className="ruled mt-2">
      {result.moves.map((move) => (
        <li key={move.deliveryId} data-follows className="py-1">
          <b className="font-medium">{move.title}</b> <ChannelName id={move.channelId} />
          <span className="block text-sm">
            <DayLink date={move.from} /> → <DayLink date={move.date} />, {clock(move.time)}
          </span>
          {move.against.map((why) => (
            <span key={why} className="block text-bad text-sm">
              {why}
            </span>
          ))}
        </li>
      ))}
      {result.stays.map((stay) => (
        <li key={stay.deliveryId} data-stays className="py-1">
          <b className="font-medium">{stay.title}</b> <ChannelName id={stay.channelId} />
          <span className="block text-sm">
            stays on <DayLink date={stay.date} />, {clock(stay.time)}. <span className="text-bad">{stay.why}</span>
          </span>
        </li>
      ))}
    </ul>
  );
}
