import { useState } from 'react';
import { wordsOf } from '../api/client';
import { type Channel, ChannelName, useChannels, useConnect } from '../channels/channels';
import { NetworkMark, useNetwork, useNetworks } from '../networks/networks';
import { PauseButton } from '../pauses/PauseButton';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { ChannelForm } from './ChannelForm';
import { ChannelGroupsSection } from './ChannelGroupsSection';
import { KeptChannelForm } from './KeptChannelForm';

export function ChannelsSection() {
  const channels = useChannels();
  const networks = useNetworks();
  const connect = useConnect();
  const { trouble } = useNotices();
  const [open, setOpen] = useState<Channel | null>(null);
  /** Null: a new one; undefined: none is open. */
  const [kept, setKept] = useState<Channel | null | undefined>(undefined);
  const start = (network: string) => connect.mutate(network, { onError: (error) => trouble(wordsOf(error)) });
  return (
    <section aria-labelledby="channels" className="max-w-3xl">
      <h2 id="channels" className="border-ink border-b-[1.5px] pb-1">
        Channels
      </h2>
      <Fetched query={channels} what="the channels">
        {(list) => (
          <>
            {list.length === 0 && <p className="py-3 text-faded">None yet. A channel is one account on one network.</p>}
            <ul className="ruled">
              {list.map((channel) => (
                <Line
                  key={channel.id}
                  channel={channel}
                  onConnect={() => start(channel.network)}
                  onChange={() => setOpen(channel)}
                  onKept={() => setKept(channel)}
                />
              ))}
            </ul>
          </>
        )}
      </Fetched>
      <div className="mt-3 flex flex-wrap gap-2">
        {networks.data
          ?.filter((network) => !network.keptByHand)
          .map((network) => (
            <Button key={network.key} disabled={connect.isPending} onClick={() => start(network.key)}>
              <NetworkMark network={network.key} /> Connect a channel on {network.name}
            </Button>
          ))}
        <Button onClick={() => setKept(null)}>Keep a channel by hand</Button>
      </div>
      <ChannelGroupsSection />
      <Sheet
        open={kept !== undefined}
        title={kept?.name ?? 'A channel kept by hand'}
        onClose={() => setKept(undefined)}
      >
        {kept !== undefined && <KeptChannelForm key={kept?.id} channel={kept} onDone={() => setKept(undefined)} />}
      </Sheet>
      <Sheet open={open !== null} title={open?.name ?? ''} onClose={() => setOpen(null)}>
        {open && <ChannelForm key={open.id} channel={open} onDone={() => setOpen(null)} />}
      </Sheet>
    </section>
  );
}

const standings: Record<Channel['connection'], { word: string; tone: string }> = {
  connected: { word: 'Connected', tone: 'text-good' },
  needsReconnection: { word: 'Not connected', tone: 'font-semibold text-bad' },
  disconnected: { word: 'Disconnected', tone: 'text-faded' },
  keptByHand: { word: 'Kept by hand', tone: 'text-dawn' },
};

interface LineProps {
  channel: Channel;
  onConnect: () => void;
  onChange: () => void;
  onKept: () => void;
}

function Line({ channel, onConnect, onChange, onKept }: LineProps) {
  const network = useNetwork(channel.network);
  const { word, tone } = standings[channel.connection];
  return (
    <li className="flex items-center gap-3 py-2" data-channel={channel.handle}>
      <span className="min-w-0 flex-1">
        <ChannelName id={channel.id} className="font-medium" />
        <span className="block text-faded text-sm">
          {network?.keptByHand ? channel.handle || 'Kept by hand' : `@${channel.handle} on ${network?.name}`}
        </span>
        {channel.connectionTrouble && <span className="block text-bad text-sm">{channel.connectionTrouble}</span>}
      </span>
      <span className={tone}>{word}</span>
      {network?.keptByHand ? (
        <Button onClick={onKept}>
          {channel.connection === 'disconnected' ? 'Keep it again' : 'Name it anew'}
          <span className="sr-only">: {channel.name}</span>
        </Button>
      ) : (
        channel.connection !== 'connected' && (
          <Button variant={channel.connection === 'needsReconnection' ? 'primary' : 'plain'} onClick={onConnect}>
            Connect again
          </Button>
        )
      )}
      <PauseButton what="channel" target={channel.id} name={channel.name} />
      <Button aria-label={`Change ${channel.name}`} onClick={onChange}>
        Change
      </Button>
    </li>
  );
}
