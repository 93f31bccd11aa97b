import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../api/client';
import type { Channel } from '../../channels/channels';
import { TilePicture } from '../../media/TilePicture';
import type { NetworkCheck } from '../../posts/posts';
import { shortDay } from '../../time/dates';
import { useWorkspacePath } from '../../workspaces/workspace';

type Tile = Pick<Schemas['WallPicture'], 'key' | 'mediaId' | 'crop' | 'ratio' | 'altText' | 'hasPicture'> & {
  when: string;
};

/** A picture channel's own page as followers will see it, with this post in it: a wall of two columns, the second half a step lower. */
export function Wall({ channel, check }: { channel: Channel; check: NetworkCheck | undefined }) {
  const { id, path } = useWorkspacePath();
  const past =
    useQuery({
      queryKey: ['lineUp', id, 'wall', channel.id],
      queryFn: () =>
        ask(
          api.GET('/api/workspaces/{workspaceId}/channels/{id}/wall', {
            params: { path: { ...path, id: channel.id } },
          }),
        ),
    }).data ?? [];
  const own = check?.content.pictures?.[0];
  const tiles: Tile[] = [
    ...(own
      ? [
          {
            key: 'this',
            mediaId: own.media,
            crop: own.crop ?? null,
            ratio: own.crop ? own.crop.width / own.crop.height : null,
            altText: own.altText ?? '',
            hasPicture: true,
            when: 'This post',
          },
        ]
      : []),
    ...past.map((p) => ({ ...p, when: shortDay(p.date) })),
  ].slice(0, 8);
  if (tiles.length === 0) return <p className="text-faded text-sm">Nothing with a picture has gone out there yet.</p>;
  const column = (first: number) => tiles.filter((_, i) => i % 2 === first);
  return (
    <div className="grid grid-cols-2 gap-1.5" data-wall={channel.id}>
      {[0, 1].map((first) => (
        <ul key={first} className={`flex flex-col gap-1.5 ${first === 1 ? 'pt-8' : ''}`}>
          {column(first).map((tile) => (
            <li key={tile.key} className={tile.key === 'this' ? 'outline-2 outline-dawn outline-offset-1' : ''}>
              <TilePicture workspace={id} tile={tile} side={320} />
              <span className={`block text-xs ${tile.key === 'this' ? 'font-semibold text-dawn' : 'text-faded'}`}>
                {tile.when}
              </span>
            </li>
          ))}
        </ul>
      ))}
    </div>
  );
}
