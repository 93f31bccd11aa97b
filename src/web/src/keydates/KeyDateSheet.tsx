import { useState } from 'react';
import { clock, dayWords, longDay, zoneWords } from '../time/dates';
import { Button } from '../ui/Button';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspaceLink } from '../workspaces/workspace';
import { BeginPart, FollowPart } from './FollowPart';
import { KeyDateForm } from './KeyDateForm';
import { KindMark } from './KeyDateMark';
import {
  comingKey,
  type KeyDate,
  type KeyDateDetails,
  type KeyDateEdit,
  useKeyDate,
  useKeyDateActs,
  useKeyDateKinds,
} from './keyDates';
import { ruleWords } from './rules';

interface Props {
  keyDates: readonly KeyDate[];
  /** Key of the coming that is open, or `new.` and a date; null: none. */
  open: string | null;
  onClose: () => void;
}

/** A key date beside the calendar: what it is, what stands relative to it, and what can be done about it. */
export function KeyDateSheet({ keyDates, open, onClose }: Props) {
  const [id, date] = (open ?? '').split('.');
  const isNew = id === 'new';
  const keyDate = keyDates.find((k) => comingKey(k) === open);
  // One that is shown nowhere just now can be opened all the same.
  const isOpen = open !== null && (isNew ? date !== undefined : id !== undefined && id.length === 36);
  const details = useKeyDate(isOpen && !isNew && id ? id : null);
  const title = isNew ? 'A new key date' : (keyDate?.title ?? details.data?.title ?? 'A key date');
  return (
    <Sheet open={isOpen} title={title} onClose={onClose}>
      {isOpen && isNew && date && <NewKeyDate key={open} date={date} onDone={onClose} />}
      {isOpen && !isNew && id && <Opened key={id} id={id} keyDate={keyDate} onClose={onClose} />}
    </Sheet>
  );
}

function NewKeyDate({ date, onDone }: { date: string; onDone: () => void }) {
  const kinds = useKeyDateKinds();
  const workspace = useWorkspace().data;
  return (
    <Fetched query={kinds} what="the kinds of key dates">
      {(list) =>
        list[0] && workspace ? (
          <KeyDateForm
            id={null}
            kinds={list}
            today={workspace.today}
            zone={workspace.zone}
            first={{
              kindId: list[0].id,
              title: '',
              notes: '',
              date,
              days: 1,
              time: null,
              zone: null,
              rule: null,
              isLive: false,
            }}
            onDone={onDone}
          />
        ) : (
          <p>
            No kinds of key dates are named yet. Name some in Set-up, under Key dates: events, launches, newsletters.
          </p>
        )
      }
    </Fetched>
  );
}

function Opened({ id, keyDate, onClose }: { id: string; keyDate: KeyDate | undefined; onClose: () => void }) {
  const details = useKeyDate(id);
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  return (
    <Fetched query={details} what="the key date">
      {(d) => (
        <div className="flex flex-col gap-5">
          <About details={d} keyDate={keyDate} />
          {mayPlan && <FollowPart id={id} isGone={d.isGone} />}
          {mayPlan && keyDate && <BeginPart keyDate={keyDate} />}
          {mayPlan && keyDate && <Acts details={d} keyDate={keyDate} onClose={onClose} />}
        </div>
      )}
    </Fetched>
  );
}

function About({ details, keyDate }: { details: KeyDateDetails; keyDate: KeyDate | undefined }) {
  const kind = useKeyDateKinds().data?.find((k) => k.id === details.kindId);
  const days = keyDate && keyDate.last > keyDate.date ? ` to ${dayWords(keyDate.last)}` : '';
  return (
    <>
      <dl className="grid grid-cols-[5.5rem_1fr] gap-y-1.5">
        <dt className="text-faded">When</dt>
        <dd>
          {dayWords(keyDate?.date ?? details.date)}
          {days}
          {keyDate?.time ? (
            <>
              , <b className="font-head">{clock(keyDate.time)}</b>
            </>
          ) : (
            ', all day'
          )}
          {details.zone && details.time && (
            <span className="block text-faded text-sm">
              {clock(details.time)} {zoneWords(details.zone)}
            </span>
          )}
        </dd>
        {details.rule && (
          <>
            <dt className="text-faded">Again</dt>
            <dd>{ruleWords(details.rule, details.date)}</dd>
          </>
        )}
        <dt className="text-faded">Kind</dt>
        <dd className="flex items-center gap-1.5">
          <KindMark kind={kind} /> {kind?.name}
          {kind && !kind.isShownToClients && <span className="text-faded text-sm">not shown to clients</span>}
        </dd>
        {details.from && (
          <>
            <dt className="text-faded">Read from</dt>
            <dd>
              {details.from}, {details.isGone ? 'which no longer has it' : 'and changed there'}
            </dd>
          </>
        )}
      </dl>
      {details.notes && <p className="whitespace-pre-line">{details.notes}</p>}
    </>
  );
}

function Acts({ details, keyDate, onClose }: { details: KeyDateDetails; keyDate: KeyDate; onClose: () => void }) {
  const [open, setOpen] = useState<'edit' | 'move' | null>(null);
  const kinds = useKeyDateKinds().data ?? [];
  const workspace = useWorkspace().data;
  const { editComing, remove } = useKeyDateActs();
  if (!workspace) return null;
  const isOwn = details.from === null;
  if (open === 'edit') {
    const { id, from: _, skipped: __, isGone: ___, ...first } = details;
    return (
      <KeyDateForm
        id={id}
        first={first satisfies KeyDateEdit}
        kinds={kinds}
        today={workspace.today}
        zone={workspace.zone}
        onDone={({ outOfStep }) => (outOfStep > 0 ? setOpen(null) : onClose())}
      />
    );
  }
  if (open === 'move') return <MoveOne keyDate={keyDate} today={workspace.today} onDone={() => setOpen(null)} />;
  const done = !keyDate.isDone;
  return (
    <div className="flex flex-wrap gap-2">
      {keyDate.isLive && (
        <Button
          variant={done ? 'primary' : 'plain'}
          disabled={editComing.isPending}
          onClick={() =>
            editComing.mutate({ keyDate, edit: { done }, words: done ? 'Done, and said so.' : 'It is yet to be done.' })
          }
        >
          {done ? 'It is done' : 'Not done after all'}
        </Button>
      )}
      {isOwn && <Button onClick={() => setOpen('edit')}>{keyDate.recurs ? 'Change all of it' : 'Change it'}</Button>}
      {isOwn && keyDate.recurs && <Button onClick={() => setOpen('move')}>Move just this one</Button>}
      {isOwn && keyDate.recurs && (
        <Button
          disabled={editComing.isPending}
          onClick={() =>
            editComing.mutate(
              { keyDate, edit: { skip: true }, words: `Not on ${longDay(keyDate.date)}.` },
              { onSuccess: onClose },
            )
          }
        >
          Skip just this one
        </Button>
      )}
      {isOwn && (
        <Button
          variant="quiet"
          disabled={remove.isPending}
          onClick={() => remove.mutate(keyDate, { onSuccess: onClose })}
        >
          Take it off the calendar
        </Button>
      )}
      <FormError error={editComing.error ?? remove.error} />
    </div>
  );
}

function MoveOne({ keyDate, today, onDone }: { keyDate: KeyDate; today: string; onDone: () => void }) {
  const [date, setDate] = useState(keyDate.date);
  const { editComing } = useKeyDateActs();
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        editComing.mutate(
          { keyDate, edit: { movedTo: date, time: keyDate.time }, words: `It stands on ${longDay(date)}, this time.` },
          { onSuccess: onDone },
        );
      }}
    >
      <Field label="This time, on">{(id) => <DateField id={id} today={today} value={date} onChange={setDate} />}</Field>
      <FormError error={editComing.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={editComing.isPending || date === keyDate.date}>
          Move just this one
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
