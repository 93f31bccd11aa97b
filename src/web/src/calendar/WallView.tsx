import { useQuery } from '@tanstack/react-query';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { api, ask } from '../api/client';
import { type Channel, ChannelName, useChannels } from '../channels/channels';
import { KeyDateList } from '../keydates/KeyDateList';
import { useExchange } from '../lineup/acts';
import type { Entry } from '../lineup/lineup';
import { TilePicture } from '../media/TilePicture';
import { useNetworks } from '../networks/networks';
import { addDays, clock, dayWords, mondayOf, shortDay } from '../time/dates';
import { draggable, droppable, useDragging } from '../ui/dragging';
import { Empty, Fetched } from '../ui/States';
import { useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';
import { useLook } from './look';
import { wallAhead } from './spans';

function useWall(channel: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', id, 'wall', channel, wallAhead],
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/channels/{id}/wall', {
          params: { path: { ...path, id: channel }, query: { ahead: wallAhead } },
        }),
      ),
  });
}

interface Props {
  /** The one whose page is shown; null: the first. */
  chosen: string | null;
  entries: readonly Entry[];
  onChannel: (id: string) => void;
}

/** A picture channel's own page as its followers will see it: a wall of two columns, the second half a step lower, what is to come at its top. */
export function WallView({ chosen, entries, onChannel }: Props) {
  const networks = useNetworks().data ?? [];
  const walls = (useChannels().data ?? []).filter(
    (c) => c.connection !== 'disconnected' && networks.find((n) => n.key === c.network)?.look === 'pictures',
  );
  const channel = walls.find((c) => c.id === chosen) ?? walls[0];
  if (!channel)
    return (
      <Empty title="No channel here has a wall of pictures">
        Connect one in Set-up; its page then stands here as followers will see it.
      </Empty>
    );
  return (
    <div className="grid grid-cols-[12rem_minmax(0,34rem)_minmax(0,1fr)] gap-8 pt-2">
      <ul>
        {walls.map((c) => (
          <li key={c.id}>
            <button
              type="button"
              aria-pressed={c.id === channel.id}
              onClick={() => onChannel(c.id)}
              className="flex min-h-8 w-full items-center rounded-md px-2 text-left hover:bg-wash aria-pressed:bg-dawn-wash"
            >
              <ChannelName id={c.id} />
            </button>
          </li>
        ))}
      </ul>
      <Page key={channel.id} channel={channel} entries={entries} />
      <div className="max-w-[34ch]">
        <p className="text-faded text-sm">
          Framed with dots: still to come, the latest at the top, as things stand. Press one to see when it goes out,
          and to move it. Drag one onto another, or press Alt with an arrow, and they change places.
        </p>
        <Without channel={channel} entries={entries} />
        <KeyDates channel={channel} />
      </div>
    </div>
  );
}

/** What is to come on a channel and has nothing to show, and what can be done about it. */
function Without({ channel, entries }: { channel: Channel; entries: readonly Entry[] }) {
  const { to } = useWorkspacePath();
  const { onOpen } = useLook();
  const mayWrite = useWorkspaceLink().rights.includes('write');
  const wall = useWall(channel.id).data;
  if (!wall) return null;
  const shown = new Set(wall.map((tile) => tile.key));
  const without = entries.filter((e) => e.channelId === channel.id && isToCome(e) && !shown.has(e.key));
  if (without.length === 0) return null;
  return (
    <section aria-labelledby="without-a-picture" className="mt-5">
      <h2 id="without-a-picture">Nothing to show yet</h2>
      <p className="mt-1 text-faded text-sm">
        These stand on no wall, and {channel.name} may refuse them. Add a picture or a film, or choose another post.
      </p>
      <ul className="mt-2 divide-y divide-rule" data-without={channel.id}>
        {without.map((entry) => (
          <li key={entry.key} className="py-1.5 text-sm">
            <button type="button" className="block w-full text-left hover:bg-wash" onClick={() => onOpen(entry.key)}>
              <span className="font-semibold">{entry.title ?? 'Nothing to send'}</span>
              <span className="block text-faded">
                {dayWords(entry.date)}, {clock(entry.time)}
              </span>
            </button>
            {entry.postId && mayWrite && (
              <Link className="link" to={to(`posts/${entry.postId}`)}>
                Add a picture<span className="sr-only"> to {entry.title}</span>
              </Link>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The key dates of the weeks whose pictures are shown, so far as they are to come. */
function KeyDates({ channel }: { channel: Channel }) {
  const { today } = useLook();
  const coming = useWall(channel.id).data?.filter((tile) => tile.isComing) ?? [];
  // The latest stands first.
  return coming[0] ? <KeyDateList from={today} until={addDays(mondayOf(coming[0].date), 6)} isNarrow /> : null;
}

const isToCome = (entry: Entry) =>
  entry.state === null || entry.state === 'planned' || entry.state === 'waitingForApproval';

/** A picture to come, which may change places with another. */
interface Tile {
  kind: 'tile';
  entry: Entry;
}

const tileDrag = (entry: Entry | undefined) => {
  const tile = entry && ({ kind: 'tile', entry } satisfies Tile);
  const [drag, drop] = [draggable(tile), droppable(tile)];
  return (node: HTMLElement | null) => {
    drag(node);
    drop(node);
  };
};

function Page({ channel, entries }: { channel: Channel; entries: readonly Entry[] }) {
  const { id } = useWorkspacePath();
  const { open, onOpen } = useLook();
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  const wall = useWall(channel.id);
  const exchange = useExchange();
  const byKey = new Map(entries.map((e) => [e.key, e]));
  useDragging({
    takes: (load) => (load as Tile).kind === 'tile',
    words: (load) => (load as Tile).entry.title ?? '',
    land: (load, place) => {
      const [one, other] = [(load as Tile).entry, (place as Tile).entry];
      if (other && one.key !== other.key) exchange.mutate({ one, other });
    },
  });
  /** By keys: Alt with an arrow changes places with the picture before or after it. */
  const byKeys = (event: KeyboardEvent, at: number) => {
    const step = { ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1, ArrowRight: 1 }[event.key];
    if (!event.altKey || !step) return;
    event.preventDefault();
    const [tile, next] = [wall.data?.[at], wall.data?.[at + step]];
    const [one, other] = [byKey.get(tile?.key ?? ''), byKey.get(next?.key ?? '')];
    if (one && other && tile?.isComing && next?.isComing) exchange.mutate({ one, other });
  };
  return (
    <Fetched query={wall} what="its page">
      {(tiles) =>
        tiles.length === 0 ? (
          <Empty title={`Nothing with a picture or film goes out on ${channel.name}`}>
            Pictures and films stand here as soon as a post with one is planned.
          </Empty>
        ) : (
          <div className="grid grid-cols-2 gap-3" data-wall={channel.id}>
            {[0, 1].map((column) => (
              <ul key={column} className={`flex flex-col gap-3 ${column === 1 ? 'pt-12' : ''}`}>
                {tiles
                  .map((tile, at) => ({ tile, at }))
                  .filter(({ at }) => at % 2 === column)
                  .map(({ tile, at }) => {
                    const entry = byKey.get(tile.key);
                    const moves = tile.isComing && mayPlan ? entry : undefined;
                    const when = `${tile.isFilm ? 'Film, ' : ''}${tile.isComing ? dayWords(tile.date) : shortDay(tile.date)}${entry ? `, ${clock(entry.time)}` : ''}`;
                    return (
                      <li key={tile.key} data-tile={tile.isComing ? 'coming' : 'sent'}>
                        <button
                          type="button"
                          ref={tileDrag(moves)}
                          disabled={!entry}
                          onKeyDown={(event) => byKeys(event, at)}
                          aria-pressed={tile.key === open}
                          aria-label={`${when}${entry ? `: ${entry.title}` : ''}${tile.isComing ? ', to come' : ', sent'}`}
                          onClick={() => onOpen(tile.key)}
                          className={`block w-full text-left ${tile.isComing ? 'outline-2 outline-dawn outline-dotted outline-offset-1' : ''} aria-pressed:outline-solid data-over:outline-solid data-over:outline-4 data-taken:opacity-40`}
                        >
                          <TilePicture workspace={id} tile={tile} side={640} />
                          <span className={`block px-1 text-xs ${tile.isComing ? 'font-semibold' : 'text-faded'}`}>
                            {when}
                          </span>
                        </button>
                      </li>
                    );
                  })}
              </ul>
            ))}
          </div>
        )
      }
    </Fetched>
  );
}
