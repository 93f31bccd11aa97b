import { CategorySelect, useCategories } from '../../categories/categories';
import { GroupsToTick, useChannels } from '../../channels/channels';
import { NetworkMark } from '../../networks/networks';
import type { PostEdit } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { inCategory } from './category';
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
  const categories = useCategories().data ?? [];
  const category = categories.find((c) => c.id === edit.categoryId);
  const usual = category?.usualChannels ?? [];
  const wanted = edit.channels ?? usual;
  const set = (ids: readonly string[]) => {
    const known = channels.filter((c) => ids.includes(c.id)).map((c) => c.id);
    const isUsual = known.length === usual.length && known.every((id) => usual.includes(id));
    change({ channels: isUsual ? null : known });
  };
  // One that is disconnected is offered only to be taken out.
  const offered = channels.filter((c) => c.connection !== 'disconnected' || wanted.includes(c.id));
  const able = offered.filter((c) => c.connection !== 'disconnected').map((c) => c.id);
  return (
    <section aria-label="Kind and channels" className="flex flex-wrap items-start gap-x-6 gap-y-2">
      <div className="w-52 shrink-0 max-sm:w-full">
        <CategorySelect
          aria-label="Category"
          value={edit.categoryId}
          onChange={(id) => {
            const next = categories.find((c) => c.id === id);
            if (next) change(inCategory(edit, category, next));
          }}
        />
        {!edit.categoryId && (
          <p className="mt-1 text-dawn text-sm" data-lacks-category>
            Choose a category: then it is saved.
          </p>
        )}
      </div>
      <fieldset className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5">
        <legend className="sr-only">Goes to</legend>
        <div className="contents" data-targets>
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
        </div>
        {able.length > 2 && <GroupsToTick offered={able} value={wanted} onChange={set} withAll />}
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
