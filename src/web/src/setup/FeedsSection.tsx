import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask, wordsOf } from '../api/client';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

/** Secret addresses at which other calendars read this one. */
export function FeedsSection() {
  const { id, path, to } = useWorkspacePath();
  const client = useQueryClient();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const { tell, trouble } = useNotices();
  const feeds = useQuery({
    queryKey: ['calendar', id, 'feeds'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/calendar-feeds', { params: { path } })),
  });
  const revoke = useMutation({
    mutationFn: (feed: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/calendar-feeds/{id}', { params: { path: { ...path, id: feed } } })),
    onSuccess: () => {
      tell('The address is revoked: it gives nothing any more.');
      return client.invalidateQueries({ queryKey: ['calendar', id] });
    },
    onError: (error) => trouble(wordsOf(error)),
  });
  return (
    <section aria-labelledby="feeds" className="mt-8 max-w-3xl">
      <h2 id="feeds" className="border-ink border-b-[1.5px] pb-1">
        Read by other calendars
      </h2>
      <p className="py-2 text-faded">
        Secret addresses are made in the{' '}
        <Link className="link" to={to('calendar')}>
          calendar
        </Link>
        , under “This view”. Whoever has one reads what its maker may see.
      </p>
      <Fetched query={feeds} what="the addresses">
        {(list) => (
          <ul className="ruled">
            {list.map((feed) => (
              <li key={feed.id} data-feed={feed.name} className="flex items-center gap-3 py-2">
                <span className="min-w-0 flex-1">
                  <b>{feed.name}</b>
                  <span className="block text-faded text-sm">
                    Made by {feed.madeBy}, {instantWords(feed.madeAt, zone)};{' '}
                    {feed.usedAt ? `last read ${instantWords(feed.usedAt, zone)}` : 'never read'}
                  </span>
                </span>
                <Button
                  aria-label={`Revoke the address ${feed.name}`}
                  disabled={revoke.isPending}
                  onClick={() => revoke.mutate(feed.id)}
                >
                  Revoke
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Fetched>
    </section>
  );
}
