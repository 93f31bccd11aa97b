import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../api/client';
import type { Channel } from '../channels/channels';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useWorkspacePath } from '../workspaces/workspace';

const number = (text: string) => (text === '' ? null : Number(text));

/** How closely a channel may be filled. */
export function ChannelForm({ channel, onDone }: { channel: Channel; onDone: () => void }) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const [spacing, setSpacing] = useState(channel.spacingMinutes?.toString() ?? '');
  const [limit, setLimit] = useState(channel.dailyLimit?.toString() ?? '');
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.PUT('/api/workspaces/{workspaceId}/channels/{id}', {
          params: { path: { ...path, id: channel.id } },
          body: { spacingMinutes: number(spacing), dailyLimit: number(limit) },
        }),
      ),
    onSuccess: async () => {
      await Promise.all(
        ['channels', 'lineUp', 'runway'].map((name) => client.invalidateQueries({ queryKey: [name, id] })),
      );
      onDone();
    },
  });
  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Field
        label="Least minutes between two deliveries"
        hint="A place of the rota that would come nearer gives way. Empty: any."
      >
        {(field, below) => (
          <input
            id={field}
            aria-describedby={below}
            type="number"
            min={1}
            max={1440}
            className="field !w-28"
            value={spacing}
            onChange={(e) => setSpacing(e.target.value)}
          />
        )}
      </Field>
      <Field label="Most deliveries a day" hint="Empty: any number.">
        {(field, below) => (
          <input
            id={field}
            aria-describedby={below}
            type="number"
            min={1}
            max={100}
            className="field !w-28"
            value={limit}
            onChange={(e) => setLimit(e.target.value)}
          />
        )}
      </Field>
      <FormError error={save.error} />
      <div>
        <Button type="submit" look="chief" disabled={save.isPending}>
          Save the channel
        </Button>
      </div>
    </form>
  );
}
