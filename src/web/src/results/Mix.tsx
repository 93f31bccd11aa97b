import { Link } from 'react-router';
import { useCategories } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { clock, daysWords } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';
import { type MixView, type Question, useMix } from './results';

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** Slots that results would give to another category: to be tried in the rota, where nothing is changed before it is applied. */
export function Mix({ question }: { question: Question }) {
  const moves = useMix(question).data ?? [];
  if (moves.length === 0) return null;
  return (
    <section className="mb-6" data-mix>
      <h2 className="mb-1">What the rota could try</h2>
      <p className="mb-2 max-w-[80ch] text-faded text-sm">
        Slots of categories that surely earn less than their share, for ones that surely earn more and whose posts keep
        their gap. One at a time; what you aim for is shown, and stays yours to decide.
      </p>
      <ul className="list-none border-rule border-t">
        {moves.map((move) => (
          <Move key={move.move.slotId} view={move} />
        ))}
      </ul>
    </section>
  );
}

function Move({ view: { move, days, time, channels } }: { view: MixView }) {
  const { to } = useWorkspacePath();
  const categories = useCategories().data ?? [];
  const name = (id: string) => categories.find((c) => c.id === id)?.name ?? 'a category';
  const shares = ({ before, after, target }: MixView['move']['to']) =>
    `${percent(before)} → ${percent(after)} of what goes out${target === null ? '' : `, aim ${percent(target)}`}`;
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-6 border-rule border-b py-2">
      <div>
        <p>
          Give{' '}
          <b>
            {days.length === 0 ? 'the slot' : daysWords(days)}, {clock(time)}
          </b>{' '}
          from <b>{name(move.from.categoryId)}</b> to <b>{name(move.to.categoryId)}</b>
        </p>
        <p className="flex flex-wrap gap-x-4 text-faded text-sm">
          {channels.map((id) => (
            <ChannelName key={id} id={id} />
          ))}
          <span>
            {name(move.to.categoryId)}: {shares(move.to)}
          </span>
          <span>
            {name(move.from.categoryId)}: {shares(move.from)}
          </span>
        </p>
      </div>
      <Link className="link" to={to(`rota?rota=${move.rotaId}&slot=${move.slotId}&give=${move.to.categoryId}`)}>
        Try it in the rota
      </Link>
    </li>
  );
}
