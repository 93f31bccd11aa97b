import { useState } from 'react';
import { limits } from '../api/limits';
import { useCategory, useDraw } from '../categories/categories';
import { WhenForm } from '../deliveries/WhenForm';
import { useChangePost, usePost } from '../posts/posts';
import { addDays, clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { Menu, MenuItem, MenuText } from '../ui/Menu';
import { Fetched } from '../ui/States';
import { useWorkspace } from '../workspaces/workspace';
import { useExchange } from './acts';
import { type Entry, type EntryAct, useLineUp } from './lineup';
import { type OccurrenceEdit, useCandidates, useOccurrenceActs } from './occurrences';

/** What can be done about a place of the rota that isn't scheduled yet. */
export function PlacePart({ entry }: { entry: Entry }) {
  const { decide, move } = useOccurrenceActs();
  const post = entry.postId;
  const channels = [entry.channelId];
  const today = useWorkspace().data?.today;
  const [open, setOpen] = useState<'move' | 'other' | 'note' | null>(null);
  const act = (words: string, edit: OccurrenceEdit) => decide.mutate({ entry, words, edit });
  const may = (what: EntryAct) => entry.may.includes(what);
  if (entry.may.length === 0) return null;
  return (
    <section className="flex flex-col gap-3 border-rule border-t pt-4">
      {entry.note && <p className="border-rule-strong border-l-2 pl-3 italic">{entry.note}</p>}
      <div className="flex flex-wrap gap-2">
        {post && may('keepPost') && (
          <Button
            onClick={() =>
              act('Picked: nothing but a person changes it.', {
                picks: [{ channelId: entry.channelId, postId: post }],
              })
            }
          >
            Keep this post here
          </Button>
        )}
        {may('skipThisOne') && (
          <>
            <Button aria-expanded={open === 'other'} onClick={() => setOpen(open === 'other' ? null : 'other')}>
              Choose another
            </Button>
            <Button onClick={() => act(`Skipped on ${dayWords(entry.date)}.`, { isSkipped: true })}>
              Skip just this one
            </Button>
            <Button aria-expanded={open === 'move'} onClick={() => setOpen(open === 'move' ? null : 'move')}>
              Move just this one
            </Button>
          </>
        )}
        <Button aria-expanded={open === 'note'} onClick={() => setOpen(open === 'note' ? null : 'note')}>
          {entry.note ? 'Change the note' : 'Write a note'}
        </Button>
        {may('backToRotation') && (
          <Button onClick={() => act('Back to the rotation.', { isFreed: true })}>Back to the rotation</Button>
        )}
        {post && may('moveInLine') && (
          <Menu label="More for this post:" trigger="More ▾" triggerClass="border-[1.5px] border-rule-strong bg-leaf">
            <MenuItem onSelect={() => move.mutate({ postId: post, channels, side: 'front', title: entry.title ?? '' })}>
              To the front of its line here
            </MenuItem>
            <MenuItem onSelect={() => move.mutate({ postId: post, channels, side: 'back', title: entry.title ?? '' })}>
              To the back of its line here
            </MenuItem>
            <LeaveOut postId={post} />
            <DrawItem categoryId={entry.categoryId} />
            {may('swap') && <SwapItems entry={entry} />}
          </Menu>
        )}
      </div>
      {open === 'move' && today && (
        <WhenForm
          today={today}
          date={entry.date > today ? entry.date : addDays(today, 1)}
          time={clock(entry.time)}
          act="Move it there"
          busy={decide.isPending}
          error={decide.error}
          channels={[entry.channelId]}
          onSubmit={(when) => {
            act(`Moved to ${dayWords(when.date)}, ${clock(when.time)}.`, {
              movedTo: `${when.date}T${clock(when.time)}:00`,
            });
            setOpen(null);
          }}
        />
      )}
      {open === 'note' && (
        <Note
          note={entry.note ?? ''}
          onDone={(note) => {
            act(note ? 'The note is kept with this place.' : 'The note is gone.', { note });
            setOpen(null);
          }}
        />
      )}
      {open === 'other' && (
        <Candidates
          entry={entry}
          onChoose={(postId, title) => {
            act(`“${title}” is picked for this place.`, {
              isSkipped: false,
              picks: [{ channelId: entry.channelId, postId }],
            });
            setOpen(null);
          }}
        />
      )}
    </section>
  );
}

function Note({ note, onDone }: { note: string; onDone: (note: string) => void }) {
  const [text, setText] = useState(note);
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onDone(text.trim());
      }}
    >
      <Field label="Note, for the team alone">
        {(id) => (
          <textarea
            id={id}
            rows={3}
            className="field"
            {...limits.OccurrenceEdit.note}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </Field>
      <Button type="submit" variant="primary" className="self-start">
        Keep it
      </Button>
    </form>
  );
}

function Candidates({ entry, onChoose }: { entry: Entry; onChoose: (postId: string, title: string) => void }) {
  const candidates = useCandidates(entry, true);
  return (
    <Fetched query={candidates} what="the candidates">
      {(list) => (
        <div>
          <h3>As they would go</h3>
          <ol className="ruled mt-1 max-h-72 overflow-y-auto" data-candidates>
            {list.slice(0, 60).map((c, i) => (
              <li key={c.postId} className="flex items-baseline gap-3 py-1">
                <span className="w-6 text-right font-head text-faded">{c.canGo ? i + 1 : '–'}</span>
                <span className="min-w-0 flex-1">
                  <span className="block truncate">{c.title}</span>
                  {c.why && <span className="block text-faded text-sm">{c.why}</span>}
                </span>
                <Button aria-label={`Take ${c.title}`} onClick={() => onChoose(c.postId, c.title)}>
                  Take
                </Button>
              </li>
            ))}
          </ol>
        </div>
      )}
    </Fetched>
  );
}

function LeaveOut({ postId }: { postId: string }) {
  const post = usePost(postId);
  const change = useChangePost();
  return (
    <MenuItem
      disabled={!post.data}
      onSelect={() => {
        if (post.data)
          change.mutate({
            post: post.data,
            change: { inRotation: false },
            words: 'Left out of the rotation, until its desk lets it in again.',
          });
      }}
    >
      Leave it out of the rotation
    </MenuItem>
  );
}

/** Only for a category whose order is drawn. */
function DrawItem({ categoryId }: { categoryId: string | null }) {
  const category = useCategory(categoryId);
  const draw = useDraw();
  if (category?.order.order !== 'shuffled') return null;
  return <MenuItem onSelect={() => draw.mutate(category)}>Shuffle anew for {category.name}</MenuItem>;
}

/** Places of the same channel in the coming two weeks that can be swapped with. */
function SwapItems({ entry }: { entry: Entry }) {
  const today = useWorkspace().data?.today ?? null;
  const lineUp = useLineUp(today, today && addDays(today, 27));
  const exchange = useExchange();
  const others = (lineUp.data?.entries ?? [])
    .filter(
      (e) =>
        e.kind === 'projected' && e.channelId === entry.channelId && e.key !== entry.key && e.postId !== entry.postId,
    )
    .slice(0, 5);
  if (others.length === 0) return null;
  return (
    <>
      <MenuText>Swap with</MenuText>
      {others.map((other) => (
        <MenuItem key={other.key} onSelect={() => exchange.mutate({ one: entry, other, everywhere: true })}>
          {dayWords(other.date)}, {clock(other.time)}{' '}
          <span className="max-w-40 truncate text-faded">{other.title}</span>
        </MenuItem>
      ))}
    </>
  );
}
