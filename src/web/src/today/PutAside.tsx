import { ChannelName } from '../channels/channels';
import { type PutAside as PutAsideNeed, usePutAside } from '../deliveries/needs';
import { instantWords } from '../time/dates';
import { useWorkspace } from '../workspaces/workspace';

const titles: Record<PutAsideNeed['work'], string> = {
  scheduling: 'Nothing more is scheduled',
  sending: 'Sending waits',
  figures: 'Figures can’t be read',
  audiences: 'Followers online can’t be read',
  outside: 'What is posted on the channel itself can’t be read',
  calendars: 'A calendar can’t be read',
  tidying: 'Old files aren’t cleared',
};

/** What the background work fails on again and again; it goes on by itself as soon as it can. */
export function PutAside() {
  const needs = usePutAside().data ?? [];
  const zone = useWorkspace().data?.zone;
  if (!zone) return null;
  return needs.map((need) => (
    <div
      key={`${need.work} ${need.channelId ?? need.slotId}`}
      role="alert"
      data-put-aside={need.work}
      className="mb-3 border-bad border-l-4 bg-bad-wash px-3 py-2"
    >
      <p className="flex flex-wrap items-center gap-x-2 font-medium">
        {need.slotId ? 'A place of the rota isn’t scheduled' : titles[need.work]}
        {need.channelId && <ChannelName id={need.channelId} />}
      </p>
      <p>{need.words}</p>
      <p className="text-faded text-sm">
        Tried {need.count === 1 ? 'once' : `${need.count} times`} since {instantWords(need.since, zone)}. It goes on by
        itself once it can.
      </p>
    </div>
  ));
}
