import type { Schemas } from '../../api/client';
import { ChannelName } from '../../channels/channels';
import type { BookingMove } from '../../posts/posts';
import { Sooner } from './Sooner';
import { atWords } from './useAct';

/** The places that booking would give, and all that it moves, before anything is done. */
export function BookedPlaces({ postId, plan }: { postId: string; plan: Schemas['BookingView'] }) {
  return (
    <section
      aria-label="Places that it would get"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: what is longer than its place is scrolled by keys too
      tabIndex={0}
      className="max-h-40 overflow-y-auto text-sm"
      data-booking
    >
      <ul>
        {plan.moves.map((move) => (
          <Move key={`${move.channelId} ${move.postId}`} move={move} isOwn={move.postId === postId} />
        ))}
        {plan.without.map((none) => (
          <li key={none.channelId} className="flex flex-wrap items-center gap-x-3 py-0.5 text-faded">
            <ChannelName id={none.channelId} /> {none.why}
          </li>
        ))}
      </ul>
      {plan.sooner.map((place) => (
        <Sooner key={place.deliveryId} post={{ id: postId }} place={place} />
      ))}
    </section>
  );
}

function Move({ move, isOwn }: { move: BookingMove; isOwn: boolean }) {
  return (
    <li className="flex flex-wrap items-center gap-x-3 py-0.5">
      {!isOwn && <span className="font-medium">“{move.title}” moves on to</span>}
      <b className="font-head">{move.to ? atWords(move.to) : 'the front of its line'}</b>
      <ChannelName id={move.channelId} />
      {move.from && <span className="text-faded">from {atWords(move.from)}</span>}
      {move.warnings.map((words) => (
        <span key={words} className="border-rule-strong border-l-4 px-2">
          <b>Advice</b> {words}
        </span>
      ))}
    </li>
  );
}
