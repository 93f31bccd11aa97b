import { CategorySelect, useCategory } from '../categories/categories';
import { useChannels } from '../channels/channels';
import { NetworkMark } from '../networks/networks';
import type { PostEdit } from '../posts/posts';
import { Button } from '../ui/Button';
import type { Goal } from './reach';

interface Props {
  edit: PostEdit;
  /** Those that it goes to, once something of it is written. */
  goals: readonly Goal[];
  change: (part: Partial<PostEdit>) => void;
}

/** What kind of post it is, and which channels it goes to. */
export function Targets({ edit, goals, change }: Props) {
  const channels = useChannels().data ?? [];
  const usual = useCategory(edit.categoryId)?.usualChannels ?? [];
  const wanted = edit.channels ?? usual;
  const set = (ids: readonly string[]) => {
    const known = channels.filter((c) => ids.includes(c.id)).map((c) => c.id);
    const isUsual = known.length === usual.length && known.every((id) => usual.includes(id));
    change({ channels: isUsual ? null : known });
  };
  // One that is disconnected is offered only to be taken out.
  const offered = channels.filter((c) => c.connection !== 'disconnected' || wanted.includes(c.id));
  return (
    <section aria-label="Kind and channels" className="flex flex-wrap items-start gap-x-6 gap-y-2">
      <div className="w-52 shrink-0 max-sm:w-full">
        <CategorySelect
          aria-label="Category"
          value={edit.categoryId}
          onChange={(categoryId) => change({ categoryId })}
        />
      </div>
      <fieldset className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5" data-targets>
        <legend className="sr-only">Goes to</legend>
        {offered.map((channel) => {
          const isOn = wanted.includes(channel.id);
          const why = goals.find((g) => g.channel.id === channel.id)?.why;
          return (
            <button
              key={channel.id}
              type="button"
              aria-pressed={isOn}
              title={why ?? undefined}
              data-channel={channel.id}
              onClick={() => set(isOn ? wanted.filter((id) => id !== channel.id) : [...wanted, channel.id])}
              className={`inline-flex max-w-44 items-center gap-1.5 rounded-md border-[1.5px] px-2 py-0.5 text-sm ${
                isOn
                  ? `bg-leaf ${why ? 'border-bad border-dashed' : 'border-ink'}`
                  : 'border-transparent text-faded hover:bg-wash'
              }`}
            >
              <NetworkMark network={channel.network} size={14} />
              <span className="truncate">{channel.name}</span>
              {channel.connection === 'disconnected' && <span className="text-bad">disconnected</span>}
            </button>
          );
        })}
        {channels.length === 0 && <span className="text-sm">No channels yet. Connect one in Set-up.</span>}
        {edit.channels !== null && (
          <Button variant="quiet" className="!px-2 !py-0.5 text-sm" onClick={() => change({ channels: null })}>
            ↩ The usual ones
          </Button>
        )}
      </fieldset>
    </section>
  );
}
