import { Link } from 'react-router';
import { CategoryName } from '../categories/categories';
import { ChannelName } from '../channels/channels';
import { type Runway, useShortages } from '../rota/rota';
import { dayWords } from '../time/dates';
import { useWorkspacePath } from '../workspaces/workspace';

export function RunwayNotes() {
  const { dry, repeating } = useShortages();
  const { to } = useWorkspacePath();
  if (dry.length === 0 && repeating.length === 0) return null;
  return (
    <section className="mb-4">
      <h2 className="border-ink border-b-[1.5px] pb-1">Running short</h2>
      <ul className="ruled">
        {dry.map((r) => (
          <Dry key={r.categoryId} runway={r} />
        ))}
        {repeating.length > 0 && (
          <li className="py-2">
            {repeating.length === 1 ? 'One channel has' : `${repeating.length} channels have`} too many repeats. Share
            of repeats in the next four weeks:
            <ul className="mt-1 flex flex-wrap gap-x-4 text-sm">
              {repeating.map((c) => (
                <li key={c.channelId}>
                  <Link className="link" to={to(`calendar?view=list&channel=${c.channelId}`)}>
                    <ChannelName id={c.channelId} /> {Math.round(c.shareOfRepeats * 100)} %
                  </Link>
                </li>
              ))}
            </ul>
          </li>
        )}
      </ul>
    </section>
  );
}

function Dry({ runway }: { runway: Runway }) {
  const { to } = useWorkspacePath();
  return (
    <li className="py-2" data-dry={runway.categoryId}>
      <CategoryName id={runway.categoryId} /> has nothing to send on {dayWords(runway.firstEmpty ?? '')}
      {runway.empty > 1 && ` and ${runway.empty - 1} more times in four weeks`}: {runway.posts}{' '}
      {runway.posts === 1 ? 'post' : 'posts'} for {runway.occurrencesAWeek.toFixed(1)} places a week
      {(runway.postsMissing ?? 0) > 0 && `, ${runway.postsMissing ?? 0} too few for its gap`}.{' '}
      <Link className="link" to={to(`posts/new?category=${runway.categoryId}`)}>
        Write one
      </Link>
    </li>
  );
}
