import { useQuery } from '@tanstack/react-query';
import type { KeyboardEvent } from 'react';
import { api, ask } from '../api/client';
import { type Channel, ChannelName, useChannels } from '../channels/channels';
import { useExchange } from '../lineup/acts';
import type { Entry } from '../lineup/lineup';
import { viewBoxOf } from '../media/crops';
import { mediaAddress } from '../media/media';
import { useNetworks } from '../networks/networks';
import { clock, dayWords, shortDay } from '../time/dates';
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
    <div className="grid grid-cols-[12rem_minmax(0,34rem)_minmax(0,1fr)] gap-8">
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
      <p className="max-w-[30ch] text-faded text-sm">
        Framed with dots: still to come, the latest at the top, as things stand. Press one to see when it goes out, and
        to move it. Drag one onto another, or press Alt with an arrow, and they change places. What has no picture
        stands on no wall.
      </p>
    </div>
  );
}

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
          <Empty title={`Nothing with a picture goes out on ${channel.name}`}>
            Pictures stand here as soon as a post with one is planned.
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
                    const when = `${tile.isComing ? dayWords(tile.date) : shortDay(tile.date)}${entry ? `, ${clock(entry.time)}` : ''}`;
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
                          <img
                            src={mediaAddress(id, tile.mediaId, tile.crop ? undefined : 640)}
                            alt={tile.altText ?? ''}
                            loading="lazy"
                            className="w-full"
                            style={tile.crop ? { objectViewBox: viewBoxOf(tile.crop) } : undefined}
                          />
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
