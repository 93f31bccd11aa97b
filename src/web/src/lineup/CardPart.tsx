import { useState } from 'react';
import { ChannelName } from '../channels/channels';
import { StateMark } from '../deliveries/StateMark';
import { entryForm, entryWord, failed } from '../deliveries/states';
import { WhenForm } from '../deliveries/WhenForm';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { useWorkspace } from '../workspaces/workspace';
import { canShift, shiftBetween, usePlanAct } from './acts';
import type { Entry } from './lineup';

interface Props {
  entry: Entry;
  /** Of all channels, the open one among them. */
  siblings: readonly Entry[];
  onChoose: (key: string) => void;
}

/** A post at one time on several channels: how it stands on each, and what is done with all of them. */
export function CardPart({ entry, siblings, onChoose }: Props) {
  const [open, setOpen] = useState<'shift' | 'copy' | null>(null);
  const plan = usePlanAct();
  const today = useWorkspace().data?.today ?? '';
  const movable = siblings.filter(canShift);
  const cancellable = siblings.filter((e) => e.may.includes('cancel') || e.may.includes('skipThisOne'));
  const sendable = siblings.filter((e) => e.postId);
  const many = `all ${siblings.length} channels`;
  return (
    <section className="mb-4 border-rule border-b pb-4">
      <h3 className="mb-1">On {siblings.length} channels</h3>
      <ul className="mb-2">
        {siblings.map((e) => (
          <li key={e.key}>
            <button
              type="button"
              aria-pressed={e.key === entry.key}
              onClick={() => onChoose(e.key)}
              className="flex min-h-7 w-full items-center gap-2 rounded-sm px-1 text-left hover:bg-wash aria-pressed:bg-dawn-wash"
            >
              <ChannelName id={e.channelId} className="flex-1" />
              <span className={`text-sm ${failed(e.state) && !e.dealtWith ? 'font-semibold text-bad' : 'text-faded'}`}>
                {entryWord(e)}
                {e.isMoved && ', moved'}
              </span>
              <StateMark form={entryForm(e)} size={10} />
            </button>
          </li>
        ))}
      </ul>
      {open ? (
        <WhenForm
          today={today}
          date={entry.date > today ? entry.date : addDays(today, 1)}
          time={clock(entry.time)}
          act={open === 'shift' ? `Move ${many}` : `Copy to ${many}`}
          busy={plan.isPending}
          error={null}
          channels={siblings.map((e) => e.channelId)}
          onSubmit={({ date, time }) => {
            plan.mutate({
              act: open,
              entries: open === 'shift' ? movable : sendable,
              ...shiftBetween(entry, date, time),
              words: () => `${open === 'shift' ? 'Moved' : 'Copied'} to ${dayWords(date)}, ${clock(time)}.`,
            });
            setOpen(null);
          }}
        />
      ) : (
        <div className="flex flex-wrap gap-2">
          {movable.length > 0 && <Button onClick={() => setOpen('shift')}>Move all</Button>}
          {sendable.length > 0 && <Button onClick={() => setOpen('copy')}>Copy all</Button>}
          {cancellable.length > 0 && (
            <Button
              onClick={() => plan.mutate({ act: 'cancel', entries: cancellable, words: () => `Cancelled on ${many}.` })}
            >
              Cancel all
            </Button>
          )}
        </div>
      )}
      <p className="mt-3 text-faded text-sm">
        What follows is about <b className="font-normal text-ink">one of them</b>: moving it there parts it from the
        others.
      </p>
    </section>
  );
}
