import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { NetworkMark } from '../networks/networks';
import { Checkbox } from '../ui/Checkbox';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import { useWorkspacePath } from '../workspaces/workspace';

export type Channel = Schemas['ChannelView'];
export type ChannelGroup = Schemas['ChannelGroupView'];

export function useChannels() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['channels', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/channels', { params: { path } })),
  });
}

export function useChannel(id: string): Channel | undefined {
  return useChannels().data?.find((c) => c.id === id);
}

/** Channels that are chosen together. */
export function useChannelGroups() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['channelGroups', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/channel-groups', { params: { path } })),
  });
}

/** Sends the browser to the network's consent page. */
export function useConnect() {
  const { path } = useWorkspacePath();
  return useMutation({
    mutationFn: (network: string) =>
      ask(api.POST('/api/workspaces/{workspaceId}/channels/connect', { params: { path }, body: { network } })),
    onSuccess: ({ address }) => window.location.assign(address),
  });
}

/** Adds a channel kept by hand, or names one anew and keeps it again. */
export function useKeepChannel(channel: string | null) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; handle: string }) =>
      channel
        ? ask(
            api.PUT('/api/workspaces/{workspaceId}/channels/{id}/kept', {
              params: { path: { ...path, id: channel } },
              body,
            }),
          )
        : ask(api.POST('/api/workspaces/{workspaceId}/channels/kept', { params: { path }, body })),
    onSuccess: () => refresh(client, id, ['channels']),
  });
}

/** Ends a channel's connection; its past stays. */
export function useDisconnect(channel: Channel) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  return useMutation({
    mutationFn: () =>
      ask(
        api.DELETE('/api/workspaces/{workspaceId}/channels/{id}/connection', {
          params: { path: { ...path, id: channel.id } },
        }),
      ),
    onSuccess: async ({ cancelled }) => {
      const deliveries = cancelled === 1 ? 'One delivery was cancelled.' : `${cancelled} deliveries were cancelled.`;
      tell(`${channel.name} is disconnected. ${cancelled === 0 ? '' : deliveries}`);
      await refresh(client, id, ['channels', 'deliveries']);
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** @param whole - True: a long name takes a second line instead of being cut. */
export function ChannelName({
  id,
  className = '',
  whole = false,
}: {
  id: string;
  className?: string;
  whole?: boolean;
}) {
  const channel = useChannel(id);
  if (!channel) return <span className={className}>…</span>;
  return (
    <span
      className={`inline-flex min-w-0 gap-1.5 ${whole ? 'items-baseline [&>svg]:translate-y-0.5' : 'items-center align-bottom'} ${className}`}
    >
      <NetworkMark network={channel.network} />
      <span className={whole ? 'leading-tight [overflow-wrap:anywhere]' : 'truncate'}>{channel.name}</span>
    </span>
  );
}

interface SelectProps {
  id?: string;
  value: string;
  onChange: (id: string) => void;
  none?: string;
  'aria-label'?: string;
}

export function ChannelSelect(props: SelectProps) {
  const channels = useChannels();
  const options = (channels.data ?? []).map((c) => ({
    value: c.id,
    label: c.name,
    mark: <NetworkMark network={c.network} />,
  }));
  return <Select {...props} options={options} />;
}

/** Channels to tick. */
export function ChannelChoice({
  label,
  value,
  among,
  onChange,
}: {
  label: string;
  value: readonly string[];
  /** The ones that are offered; left out: all. */
  among?: readonly string[];
  onChange: (ids: string[]) => void;
}) {
  const channels = useChannels();
  // One that is disconnected is offered only to be taken out.
  const isOffered = (channel: Channel) =>
    (among?.includes(channel.id) ?? channel.connection !== 'disconnected') || value.includes(channel.id);
  return (
    <fieldset>
      <legend className="mb-1 text-faded text-sm">{label}</legend>
      {channels.data?.length === 0 && <p className="text-sm">No channels yet. Connect one in Set-up.</p>}
      <GroupsToTick
        offered={(channels.data ?? []).filter(isOffered).map((c) => c.id)}
        value={value}
        onChange={onChange}
      />
      <div className="flex flex-col gap-0.5">
        {channels.data?.filter(isOffered).map((channel) => (
          <Checkbox
            key={channel.id}
            isRow
            checked={value.includes(channel.id)}
            onChange={(on) => onChange(on ? [...value, channel.id] : value.filter((id) => id !== channel.id))}
          >
            <ChannelName id={channel.id} />
            {channel.connection === 'disconnected' && <span className="text-faded text-sm">disconnected</span>}
          </Checkbox>
        ))}
      </div>
    </fieldset>
  );
}

/** Groups that tick all of their channels, or take them out. */
export function GroupsToTick({
  offered,
  value,
  onChange,
  withAll = false,
}: {
  offered: readonly string[];
  value: readonly string[];
  onChange: (ids: string[]) => void;
  /** All that are offered are a group as well. */
  withAll?: boolean;
}) {
  const all = withAll ? [{ id: 'all', name: 'All', channels: [...offered] }] : [];
  const groups = [...all, ...(useChannelGroups().data ?? [])]
    .map((group) => ({ ...group, channels: group.channels.filter((c) => offered.includes(c)) }))
    .filter((group) => group.channels.length > 0);
  if (groups.length === 0) return null;
  return (
    <div className="mb-1 flex flex-wrap gap-1">
      {groups.map(({ id, name, channels }) => {
        const all = channels.every((c) => value.includes(c));
        return (
          <button
            key={id}
            type="button"
            aria-pressed={all}
            className="min-h-6 rounded-md border border-rule-strong px-2 text-sm hover:bg-wash aria-pressed:bg-ink aria-pressed:text-paper"
            onClick={() =>
              onChange(
                all
                  ? value.filter((c) => !channels.includes(c))
                  : [...value, ...channels.filter((c) => !value.includes(c))],
              )
            }
          >
            {name}
          </button>
        );
      })}
    </div>
  );
}
