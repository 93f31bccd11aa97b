import { useState } from 'react';
import { NetworkMark } from '../../networks/networks';
import { Preview } from '../../posts/Preview';
import { checkOf, type NetworkCheck } from '../../posts/posts';
import { Choice } from '../../ui/Choice';
import type { Reach } from '../networks/reach';
import { Wall } from './Wall';

interface Props {
  reach: Reach;
  checks: readonly NetworkCheck[];
}

type Light = 'here' | 'light' | 'dark';
const lights = [
  { value: 'here', label: 'As here' },
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
] as const;

/** The post on each network side by side, and on its channel's page where that is a wall of pictures. */
export function Previews({ reach, checks }: Props) {
  const [light, setLight] = useState<Light>('here');
  const channelsOf = (network: string) =>
    reach.goals.filter((g) => g.channel.network === network).map((g) => g.channel);
  return (
    <div
      data-theme={light === 'here' ? undefined : light}
      className={light === 'here' ? 'mt-3' : 'mt-3 bg-paper p-3 text-ink'}
    >
      <div className="mb-3 flex justify-end text-sm">
        <Choice label="Light" value={light} options={lights} onChange={setLight} />
      </div>
      <div className="columns-[17rem] gap-6" data-previews>
        {reach.networks.map((network) => {
          // A channel that says something of its own looks otherwise than the rest of its network.
          const own = channelsOf(network.key).filter((c) => checks.some((k) => k.channelId === c.id));
          const shared = channelsOf(network.key).find((c) => !own.includes(c));
          return [...(shared ? [shared] : []), ...own].map((channel) => {
            const check = checkOf(checks, channel);
            return (
              <article
                key={channel.id}
                aria-label={`On ${network.name}: ${channel.name}`}
                className="mb-6 break-inside-avoid"
              >
                <h3 className="mb-1.5 flex items-center gap-2">
                  <NetworkMark network={network.key} size={16} />
                  {network.name}
                </h3>
                {check && <Preview check={check} by={channel.name} />}
                {network.look === 'pictures' && (
                  <details className="mt-2 text-sm">
                    <summary className="cursor-pointer text-faded">On its page</summary>
                    <div className="mt-2">
                      <Wall channel={channel} check={check} />
                    </div>
                  </details>
                )}
              </article>
            );
          });
        })}
      </div>
    </div>
  );
}
