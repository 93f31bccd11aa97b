import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { ChannelChoice, type ChannelGroup, ChannelName, useChannelGroups } from '../channels/channels';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';

const blank: ChannelGroup = { id: '', name: '', channels: [] };

/** Channels that are chosen together, wherever channels are chosen. */
export function ChannelGroupsSection() {
  const groups = useChannelGroups();
  const [open, setOpen] = useState<ChannelGroup | null>(null);
  return (
    <section aria-labelledby="groups" className="mt-8">
      <h2 id="groups" className="border-ink border-b-[1.5px] pb-1">
        Channel groups
      </h2>
      <Fetched query={groups} what="the groups">
        {(list) => (
          <>
            {list.length === 0 && (
              <p className="py-3 text-faded">
                None yet. A group ticks all of its channels at once, wherever channels are chosen.
              </p>
            )}
            <ul className="ruled">
              {list.map((group) => (
                <li key={group.id} data-group={group.name} className="flex items-start gap-3 py-2">
                  <span className="w-40 shrink-0 font-medium">{group.name}</span>
                  <span className="flex min-w-0 flex-1 flex-wrap gap-x-4 gap-y-0.5 text-sm">
                    {group.channels.map((id) => (
                      <ChannelName key={id} id={id} />
                    ))}
                  </span>
                  <Button aria-label={`Change the group ${group.name}`} onClick={() => setOpen(group)}>
                    Change
                  </Button>
                </li>
              ))}
            </ul>
          </>
        )}
      </Fetched>
      <Button className="mt-3" onClick={() => setOpen(blank)}>
        Add a group
      </Button>
      <Sheet open={open !== null} title={open?.name || 'A new group'} onClose={() => setOpen(null)}>
        {open && <GroupForm key={open.id} group={open} onDone={() => setOpen(null)} />}
      </Sheet>
    </section>
  );
}

function GroupForm({ group, onDone }: { group: ChannelGroup; onDone: () => void }) {
  const [name, setName] = useState(group.name);
  const [channels, setChannels] = useState<string[]>([...group.channels]);
  const { save, remove } = useGroupActs(group, onDone);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ name, channels });
      }}
    >
      <Field label="Name of the group">
        {(id) => (
          <input
            id={id}
            className="field"
            required
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
      </Field>
      <ChannelChoice label="Its channels" value={channels} onChange={setChannels} />
      <FormError error={save.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={save.isPending}>
          {group.id ? 'Save the group' : 'Add the group'}
        </Button>
        {group.id && (
          <Button disabled={remove.isPending} onClick={() => remove.mutate()}>
            Remove it
          </Button>
        )}
      </div>
    </form>
  );
}

function useGroupActs(group: ChannelGroup, onDone: () => void) {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  const done = () => {
    onDone();
    return refresh(client, workspace, ['channels']);
  };
  return {
    save: useMutation({
      mutationFn: (body: { name: string; channels: string[] }) =>
        group.id
          ? ask(
              api.PUT('/api/workspaces/{workspaceId}/channel-groups/{id}', {
                params: { path: { ...path, id: group.id } },
                body,
              }),
            )
          : ask(api.POST('/api/workspaces/{workspaceId}/channel-groups', { params: { path }, body })),
      onSuccess: done,
    }),
    remove: useMutation({
      mutationFn: () =>
        ask(
          api.DELETE('/api/workspaces/{workspaceId}/channel-groups/{id}', {
            params: { path: { ...path, id: group.id } },
          }),
        ),
      onSuccess: ({ changeSetId }) => {
        tellUndoable(`The group ${group.name} is removed.`, changeSetId);
        return done();
      },
      onError: (error) => trouble(wordsOf(error)),
    }),
  };
}
