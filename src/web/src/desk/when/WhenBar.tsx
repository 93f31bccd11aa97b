import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useCategories } from '../../categories/categories';
import { ChannelChoice } from '../../channels/channels';
import { TieSelect } from '../../keydates/TieSelect';
import type { Post, PostEdit } from '../../posts/posts';
import { useBooking } from '../../posts/posts';
import { GoodHours } from '../../rota/GoodHours';
import { addDays } from '../../time/dates';
import { Button } from '../../ui/Button';
import { DateField } from '../../ui/DateField';
import { FormError } from '../../ui/FormError';
import { Popover } from '../../ui/Popover';
import { TimeField } from '../../ui/TimeField';
import { useWorkspace, useWorkspaceLink, useWorkspacePath } from '../../workspaces/workspace';
import { channelCount, type Reach } from '../networks/reach';
import { BookedPlaces } from './BookedPlaces';
import { ownPlaces, useAct } from './useAct';
import { actWords, type Given, hindrance, type Prospect, type When, type WhenKind, whenWords } from './when';

interface Props {
  edit: PostEdit;
  /** What is saved; null: nothing yet. */
  post: Post | null;
  hasContent: boolean;
  reach: Reach;
  saveWith: (part: Partial<PostEdit>) => Promise<Post>;
  /** A time that was chosen before the desk was opened. */
  first: Given | null;
}

const all: readonly WhenKind[] = ['rotation', 'firstFree', 'veryNext', 'time', 'now', 'draft'];

/** When it goes out, always in sight: one choice, and one button that says what it will do. */
export function WhenBar({ edit, post, hasContent, reach, saveWith, first }: Props) {
  const { rights } = useWorkspaceLink();
  const workspace = useWorkspace().data;
  const categories = useCategories().data ?? [];
  const kinds = rights.includes('schedule') ? all : all.filter((k) => k === 'rotation' || k === 'draft');
  const isReady = edit.stage === 'ready' || edit.stage === 'waitingForApproval';
  const [kind, setKind] = useState<WhenKind>(first ? 'time' : !isReady && !edit.inRotation ? 'time' : 'rotation');
  const [at, setAt] = useState(first);
  const [only, setOnly] = useState<string[] | null>(null);
  const today = workspace?.today ?? '';
  const given = at ?? { date: today && addDays(today, 1), time: '09:00', keyDate: '' };
  const { date, time } = given;
  const when: When = kind === 'time' ? { kind, ...given } : { kind };
  const books = kind === 'firstFree' || kind === 'veryNext';
  const booking = useBooking(books ? (post?.id ?? null) : null, kind === 'veryNext' ? 'veryNext' : 'firstFree');
  const asks =
    !rights.includes('approve') ||
    edit.stage === 'waitingForApproval' ||
    categories.some((c) => c.needsApproval && (c.id === edit.categoryId || edit.furtherCategories?.includes(c.id)));
  const isExact = kind === 'time' || kind === 'now';
  const able = reach.able.filter((g) => !isExact || only === null || only.includes(g.channel.id));
  const prospect: Prospect = {
    when,
    able: able.length,
    asks,
    places: books && post && booking.data ? ownPlaces(post.id, booking.data) : null,
    isReady,
  };
  const act = useAct(saveWith);
  const why = hasContent && !edit.categoryId ? 'Choose a category first.' : hindrance(prospect, hasContent);
  const may = why === null && !act.isPending && !(kind === 'rotation' && edit.stage === 'ready' && edit.inRotation);
  const pressed = useRef(false);
  const press = () => {
    // Pressed twice before it is drawn as pressed, it is pressed once.
    if (!may || pressed.current) return;
    pressed.current = true;
    act.mutate(
      {
        when,
        only: isExact && only ? able.map((g) => g.channel.id) : null,
        shown: (books && booking.data) || null,
      },
      { onSettled: () => (pressed.current = false) },
    );
  };
  usePressedByKeys(press);
  // Somebody else may have answered since: then it is no longer as the act left it.
  const isDone = act.isSuccess && (post === null || post.stage === act.data.post.stage);
  // What is changed after an act is not done with it.
  const { reset } = act;
  const actedOn = useRef<PostEdit | null>(null);
  useEffect(() => {
    if (!act.isSuccess) actedOn.current = null;
    else if (actedOn.current === null) actedOn.current = edit;
    else if (changedSince(actedOn.current, edit)) reset();
  }, [act.isSuccess, edit, reset]);
  const choose = (chosen: Partial<Given>) => {
    setAt({ ...given, ...chosen });
    reset();
  };

  return (
    <section
      aria-label="When it goes out"
      data-when={kind}
      className="fixed inset-x-0 bottom-0 z-20 border-ink border-t-[1.5px] bg-paper px-6 py-2 max-sm:px-3"
    >
      {kind === 'time' && (
        <div className="mb-2 flex flex-wrap items-end gap-x-4 gap-y-1.5">
          <DateField aria-label="Date" today={today} value={date} onChange={(d) => choose({ date: d })} />
          <TimeField aria-label="Time" value={time} onChange={(t) => choose({ time: t })} />
          <div className="max-md:hidden">
            <GoodHours
              channels={reach.goals.map((g) => g.channel.id)}
              date={date}
              time={time}
              onTime={(t) => choose({ time: t })}
            />
          </div>
          <TieSelect date={date} value={given.keyDate} onChange={(keyDate) => choose({ keyDate })} />
        </div>
      )}
      {books && post && booking.data && !isDone && (
        <div className="mb-2">
          <BookedPlaces postId={post.id} plan={booking.data} />
        </div>
      )}
      {act.error && (
        <div className="mb-2">
          <FormError error={act.error} />
        </div>
      )}
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1.5">
        <div role="radiogroup" aria-label="When" className="flex gap-x-1 overflow-x-auto max-sm:w-full">
          {kinds.map((k) => (
            <label
              key={k}
              className={`whitespace-nowrap rounded-md px-2 py-1 has-focus-visible:outline-2 has-focus-visible:outline-dawn ${
                k === kind ? 'bg-ink text-paper' : 'hover:bg-wash'
              }`}
            >
              <input
                type="radio"
                name="when"
                className="sr-only"
                checked={k === kind}
                onChange={() => {
                  setKind(k);
                  reset();
                }}
              />
              {k === 'draft' && isReady ? 'Back to a draft' : whenWords[k]}
            </label>
          ))}
        </div>
        <div className="ml-auto flex flex-wrap items-center justify-end gap-x-3 gap-y-1">
          {isExact && !isDone && reach.able.length > 1 && (
            <Popover
              label="Only to these"
              trigger={
                <button type="button" className="link min-h-6 text-sm">
                  on {only ? channelCount(able.length) : `all ${channelCount(reach.able.length)}`}
                </button>
              }
            >
              <ChannelChoice
                label="Only to these (none ticked: to all of its channels)"
                among={reach.able.map((g) => g.channel.id)}
                value={only ?? []}
                onChange={(ids) => setOnly(ids.length > 0 ? ids : null)}
              />
            </Popover>
          )}
          {isDone ? (
            <Afterwards words={act.data?.words ?? ''} post={act.data?.post ?? post} edit={edit} />
          ) : (
            <>
              {(why ?? waitingWords(prospect, edit)) && (
                <p className="text-faded text-sm">{why ?? waitingWords(prospect, edit)}</p>
              )}
              <Button
                variant="primary"
                disabled={!may}
                title={why ?? 'Ctrl or ⌘ and Enter'}
                aria-keyshortcuts="Control+Enter Meta+Enter"
                onClick={press}
                data-act
              >
                {act.isPending ? 'One moment …' : actWords(prospect)}
              </Button>
            </>
          )}
        </div>
      </div>
    </section>
  );
}

const changedSince = (one: PostEdit, other: PostEdit) =>
  one.content !== other.content || one.categoryId !== other.categoryId || one.channels !== other.channels;

/** What is so already, where the choice would change nothing. */
const waitingWords = ({ when }: Prospect, { stage, inRotation }: PostEdit) =>
  when.kind === 'rotation' && stage === 'ready' && inRotation
    ? 'Ready: the rota may draw it.'
    : when.kind === 'rotation' && stage === 'waitingForApproval'
      ? 'It waits for approval.'
      : null;

function Afterwards({ words, post, edit }: { words: string; post: Post; edit: PostEdit }) {
  const { to } = useWorkspacePath();
  const kept = new URLSearchParams({
    category: edit.categoryId,
    ...(edit.channels && { channels: edit.channels.join(',') }),
  });
  return (
    <>
      <p role="status" className="font-medium" data-done>
        ✓ {words}
      </p>
      <Link to={to(`posts/new?${kept}`)} className="link whitespace-nowrap font-medium">
        Write the next one
      </Link>
      <Link to={to(`posts/new?copy=${post.id}`)} className="link whitespace-nowrap font-medium">
        Copy this one
      </Link>
    </>
  );
}

function usePressedByKeys(press: () => void) {
  const latest = useRef(press);
  latest.current = press;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Enter' || !(event.metaKey || event.ctrlKey)) return;
      // A form or a dialog that is open has an act of its own.
      if (event.target instanceof Element && event.target.closest('form, [role=dialog]')) return;
      event.preventDefault();
      latest.current();
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);
}
