import { useState } from 'react';
import { ChannelName } from '../channels/channels';
import { clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { FormError } from '../ui/FormError';
import { Fetched } from '../ui/States';
import {
  type BookingKind,
  type BookingMove,
  type Post,
  type ScheduledPlace,
  useBook,
  useBooking,
  useTake,
} from './posts';

const kinds = [
  { value: 'firstFree', label: 'First free place' },
  { value: 'veryNext', label: 'Very next place' },
] as const;

const kindWords: Record<BookingKind, string> = {
  firstFree: 'The earliest place that nothing is booked into; what the rotation would send there moves on.',
  veryNext: 'The very next place; what is booked there moves on by one.',
};

/** Gives the post a place of the rota: all that it moves is shown before anything is done. */
export function Booking({ post, onDone }: { post: Post; onDone: () => void }) {
  const [kind, setKind] = useState<BookingKind>('firstFree');
  const plan = useBooking(post.id, kind);
  const book = useBook(post.id);
  return (
    <section aria-label="A place of the rota" className="my-3 flex flex-col gap-3 border-dawn border-l-2 pl-4">
      <Choice label="Which place" value={kind} options={kinds} onChange={setKind} />
      <p className="text-faded text-sm">{kindWords[kind]}</p>
      <Fetched query={plan} what="its places">
        {({ moves, without, sooner, planStamp }) => (
          <>
            <ul className="ruled" data-booking>
              {moves.map((move) => (
                <Move key={`${move.channelId} ${move.postId}`} move={move} isOwn={move.postId === post.id} />
              ))}
              {without.map((none) => (
                <li key={none.channelId} className="flex flex-wrap items-center gap-x-3 py-1 text-faded">
                  <ChannelName id={none.channelId} />
                  <span className="text-sm">{none.why}</span>
                </li>
              ))}
            </ul>
            {sooner.map((place) => (
              <Sooner key={place.deliveryId} post={post} place={place} />
            ))}
            <FormError error={book.error} />
            <div className="flex gap-2">
              <Button
                variant="primary"
                disabled={book.isPending || moves.length === 0}
                onClick={() => book.mutate({ kind, planStamp }, { onSuccess: onDone })}
              >
                Book {moves.filter((m) => m.postId === post.id).length === 1 ? 'it' : 'these'}
              </Button>
              <Button variant="quiet" onClick={onDone}>
                Leave it
              </Button>
            </div>
          </>
        )}
      </Fetched>
    </section>
  );
}

function Move({ move, isOwn }: { move: BookingMove; isOwn: boolean }) {
  return (
    <li className="flex flex-wrap items-center gap-x-3 py-1">
      {!isOwn && <span className="font-medium">“{move.title}” moves on to</span>}
      <span>{move.to ? <When at={move.to} /> : 'the front of its line'}</span>
      <ChannelName id={move.channelId} />
      {move.from && (
        <span className="text-faded text-sm">
          from <When at={move.from} />
        </span>
      )}
      {move.warnings.map((words) => (
        <span key={words} className="w-full border-rule-strong border-l-4 bg-wash px-2 py-0.5 text-sm">
          <b>Advice</b> {words}
        </span>
      ))}
    </li>
  );
}

/** A scheduled place that comes before the post's own: it may take it. */
export function Sooner({ post, place }: { post: Post; place: ScheduledPlace }) {
  const take = useTake();
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-1 border-rule-strong border-l-2 pl-3" data-sooner>
      <p className="text-sm">
        A scheduled place comes sooner: <When at={place.at} /> <ChannelName id={place.channelId} />, with “{place.title}
        ”.
      </p>
      <Button
        disabled={take.isPending}
        title={`“${place.title}” goes to the front of its line`}
        onClick={() => take.mutate({ deliveryId: place.deliveryId, postId: post.id, title: place.title })}
      >
        Take that place
      </Button>
    </div>
  );
}

/** A local date and time as the server writes it. */
export function When({ at }: { at: string }) {
  const [date = '', time = ''] = at.split('T');
  return (
    <>
      {dayWords(date)}, <b className="font-head">{clock(time)}</b>
    </>
  );
}
