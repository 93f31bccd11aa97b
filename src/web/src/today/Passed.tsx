import { Link } from 'react-router';
import { CategoryName } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { type Passed as PassedPlace, useDismissPassed, usePassed } from '../deliveries/needs';
import { clock, dayWords } from '../time/dates';
import { Button } from '../ui/Button';
import { useWorkspacePath } from '../workspaces/workspace';

/** Shown at once; the rest is a number. */
const most = 4;

/** Places of the rota whose time passed with nothing sent. */
export function Passed() {
  const passed = usePassed().data ?? [];
  const dismiss = useDismissPassed();
  if (passed.length === 0) return null;
  return (
    <section className="mb-4">
      <div className="flex items-end justify-between border-ink border-b-[1.5px] pb-1">
        <h2>Passed with nothing sent</h2>
        <Button variant="quiet" disabled={dismiss.isPending} onClick={() => dismiss.mutate(passed.map((p) => p.id))}>
          Dismiss {passed.length === 1 ? 'it' : `all ${passed.length}`}
        </Button>
      </div>
      <ul className="ruled">
        {passed.slice(0, most).map((place) => (
          <Line key={place.id} place={place} />
        ))}
        {passed.length > most && <li className="py-2 text-faded text-sm">and {passed.length - most} more</li>}
      </ul>
    </section>
  );
}

function Line({ place }: { place: PassedPlace }) {
  const { to } = useWorkspacePath();
  const [date = '', time = ''] = place.at.split('T');
  return (
    <li className="py-2" data-passed={place.id}>
      <p className="flex flex-wrap items-center gap-x-3">
        <span>
          {dayWords(date)}, <b className="font-head">{clock(time)}</b>
        </span>
        {place.categoryId && <CategoryName id={place.categoryId} />}
        {place.channels.slice(0, 2).map((id) => (
          <ChannelName key={id} id={id} className="text-faded text-sm" />
        ))}
        {place.channels.length > 2 && <span className="text-faded text-sm">and {place.channels.length - 2} more</span>}
      </p>
      <p className="text-faded text-sm">
        {place.why}{' '}
        <Link className="link" to={to(`posts/new${place.categoryId ? `?category=${place.categoryId}` : ''}`)}>
          Write one
        </Link>
      </p>
    </li>
  );
}
